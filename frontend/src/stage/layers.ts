/** Paths of a layer as pairs of points, in the part's print coordinates (mm). */
type Polygon = [number, number][]

/** Closed polygons as the lines round them. */
export function loops(polygons: Polygon[]): Float32Array {
  const out: number[] = []
  for (const polygon of polygons) polygon.forEach(([x, y], i) => {
    const [u, v] = polygon[(i + 1) % polygon.length]
    out.push(x, y, 0, u, v, 0)
  })
  return new Float32Array(out)
}

/** Parallel lines inside polygons (even-odd), at an angle in degrees, so far apart. */
export function hatch(polygons: Polygon[], angle: number, apart: number): Float32Array {
  const out: number[] = []
  const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
  // in turned coordinates the lines are level
  const turned = polygons.map((p) => p.map(([x, y]) => [c * x + s * y, -s * x + c * y]))
  const heights = turned.flat().map((p) => p[1])
  if (!heights.length) return new Float32Array()
  const low = Math.min(...heights)
  const high = Math.max(...heights)
  for (let k = Math.floor(low / apart); k * apart <= high; k++) {
    const v = (k + 0.5) * apart
    const crossings: number[] = []
    for (const polygon of turned) {
      for (let i = 0; i < polygon.length; i++) {
        const [a, b] = [polygon[i], polygon[(i + 1) % polygon.length]]
        if (a[1] > v !== b[1] > v) crossings.push(a[0] + ((v - a[1]) / (b[1] - a[1])) * (b[0] - a[0]))
      }
    }
    crossings.sort((p, q) => p - q)
    for (let i = 0; i + 1 < crossings.length; i += 2) {
      for (const u of [crossings[i], crossings[i + 1]]) out.push(c * u - s * v, s * u + c * v, 0)
    }
  }
  return new Float32Array(out)
}

/** Areas with their holes: outlines run counter-clockwise, holes the other way, each within the outline that holds it. */
export function areas(polygons: Polygon[]): { outer: Polygon; holes: Polygon[] }[] {
  const signed = (p: Polygon) => p.reduce((sum, [x, y], i) => sum + x * p[(i + 1) % p.length][1] - p[(i + 1) % p.length][0] * y, 0)
  const found = polygons.filter((p) => signed(p) > 0).map((outer) => ({ outer, holes: [] as Polygon[] }))
  // the smallest outline around a hole is the one that it belongs to
  found.sort((a, b) => signed(a.outer) - signed(b.outer))
  for (const hole of polygons.filter((p) => signed(p) < 0)) found.find((a) => inside(hole[0], a.outer))?.holes.push(hole)
  return found
}

function inside([x, y]: [number, number], polygon: Polygon): boolean {
  let odd = false
  polygon.forEach(([x1, y1], i) => {
    const [x2, y2] = polygon[(i + 1) % polygon.length]
    if (y1 > y !== y2 > y && x < ((x2 - x1) * (y - y1)) / (y2 - y1) + x1) odd = !odd
  })
  return odd
}
