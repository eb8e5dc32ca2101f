/** What pulling a grip writes: a figure in place of a figure, and something added where a formula stands, so that it still follows. */

const PLAIN = /^\s*-?\d*\.?\d+\s*(mm|cm|m|in)?\s*$/

/** A figure in mm as it is written in the project's unit. */
function written(mm: number, unit: string): string {
  const value = unit === 'in' ? mm / 25.4 : mm
  return `${Number(value.toFixed(unit === 'in' ? 4 : 3))} ${unit}`
}

/** The text of a figure that was ``figure`` mm by ``text`` and is to be ``mm``. */
export function byPulling(text: string, figure: number, mm: number, unit: string): string {
  if (PLAIN.test(text) || !text.trim()) return written(mm, unit)
  const more = mm - figure
  if (Math.abs(more) < 1e-9) return text
  return `${text.trim()} ${more < 0 ? '-' : '+'} ${written(Math.abs(more), unit)}`
}

/** A figure in mm rounded to what a pixel can mean: tenths, halves, whole millimetres or more; in inches to 32nds and less. */
export function roundTo(mm: number, perPixel: number, unit: string): number {
  const steps = unit === 'in' ? [25.4 / 64, 25.4 / 32, 25.4 / 16, 25.4 / 8, 25.4 / 4] : [0.1, 0.5, 1, 2, 5, 10]
  const step = steps.find((s) => s >= perPixel) ?? steps[steps.length - 1]
  return Math.round(mm / step) * step
}
