/** What stands over the drawing makes room for each other. */

/** Left, top, right, bottom on the screen. */
export type Box = [number, number, number, number]

export const boxAbout = ([x, y]: [number, number], by: number): Box => [x - by, y - by, x + by, y + by]

export const overlap = (a: Box, b: Box): boolean => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]
