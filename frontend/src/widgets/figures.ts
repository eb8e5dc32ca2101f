/** Figures as people read them. Inside everything is millimetres and radians. */

/** So many digits; what rounds to nothing has no sign. */
export const fixed = (value: number, digits = 2): string => value.toFixed(digits).replace(/^-(0\.?0*)$/, '$1')

export function length(mm: number, unit: string, digits = 2): string {
  const value = unit === 'in' ? mm / 25.4 : mm
  return `${fixed(value, unit === 'in' ? digits + 2 : digits)} ${unit}`
}

/** A label's sizes, which are millimetres without saying so (“, Ø 5”, “, r 2.6”, “, 83 long”), as inches that say so, and its areas. */
export const inInches = (label: string): string =>
  label.replace(/(\d+(?:\.\d+)?) mm²/, (_, mm2: string) => area(Number(mm2), 'in')).replace(/(?<=, )(Ø |r |)(\d+(?:\.\d+)?(?:e[-+]\d+)?)( long)?(?=,|$)/g, (all, before: string, mm: string, after?: string) => (before || after ? `${before}${Number((Number(mm) / 25.4).toPrecision(4))} in${after ?? ''}` : all))

/** A length to begin with as one would write it in a unit: in inches the sixteenth that is nearest, or hundredths where it is finer. */
export function toBegin(text: string, unit: string): string {
  const mm = unit === 'in' ? Number(/^(\d+(?:\.\d+)?) mm$/.exec(text)?.[1] ?? 0) : 0
  if (!mm) return text
  if (mm < 25.4 / 16) return `${Math.max(0.001, Number((mm / 25.4).toFixed(mm < 1 ? 3 : 2)))} in`
  let [top, under] = [Math.round((mm / 25.4) * 16), 16]
  while (top % 2 === 0 && under > 1) [top, under] = [top / 2, under / 2]
  const whole = Math.floor(top / under)
  return [whole || '', under > 1 ? `${top % under}/${under}` : ''].filter(Boolean).join(' ') + '"'
}

/** An area, mm². */
export const area = (mm2: number, unit: string): string => (unit === 'in' ? `${plain(mm2 / 645.16, 3)} in²` : `${mm2.toFixed(mm2 < 10 ? 1 : 0)} mm²`)

/** A part's surface and volume, mm² and mm³, in units that suit whole parts. */
export const surface = (mm2: number, unit: string): string => (unit === 'in' ? `${(mm2 / 645.16).toFixed(2)} in²` : `${(mm2 / 100).toFixed(1)} cm²`)
export const volume = (mm3: number, unit: string): string => (unit === 'in' ? `${(mm3 / 25.4 ** 3).toFixed(3)} in³` : `${(mm3 / 1000).toFixed(2)} cm³`)
/** By how much a part's volume changed, mm³: often little of a whole part. */
export const volumeChange = (mm3: number, unit: string): string => `${mm3 < 0 ? '−' : '+'}${unit === 'in' ? `${(Math.abs(mm3) / 25.4 ** 3).toPrecision(3)} in³` : `${Math.abs(mm3).toFixed(1)} mm³`}`

/** From one length to another, with the unit said once. */
export const range = (low: number, high: number, unit: string): string =>
  `${length(low, unit).replace(` ${unit}`, '')} ${low < 0 || high < 0 ? 'to' : '–'} ${length(high, unit)}`

/** A figure of a reading with its unit; kernels give mm, mm² and rad. */
export function rowText(row: { kind: string; figure: number }, unit: string): string {
  if (row.kind === 'angle') return `${plain((row.figure * 180) / Math.PI, 2)}°`
  if (row.kind === 'area') return unit === 'in' ? `${(row.figure / 645.16).toFixed(3)} in²` : `${row.figure.toFixed(1)} mm²`
  return length(row.figure, unit, row.figure < 10 ? 3 : 2)
}

export function plain(value: number, digits = 4): string {
  return String(Number(value.toFixed(digits)))
}

/** A formula's result beside it, unless the formula is just that figure. */
export function result(formula: string, figure: number | undefined, type: string, unit: string): string {
  if (figure === undefined) return ''
  const shown = type === 'angle' ? `${plain((figure * 180) / Math.PI, 3)} deg` : type === 'number' ? plain(figure) : `${plain(unit === 'in' ? figure / 25.4 : figure, 3)} ${unit}`
  const bare = formula.trim().replace(/\s+/g, ' ')
  return bare === shown || /^-?[\d.]+ ?(mm|in|deg|"|″|°)?$/.test(bare) ? '' : shown
}

/** Steps the number in a formula that is a bare figure; formulas with names stay as they are. */
export function stepped(formula: string, by: number): string | null {
  const match = /^(-?\d+(?:\.\d+)?)(\s*(?:mm|in|deg|°)?)$/.exec(formula.trim())
  if (!match) return null
  const digits = Math.max((match[1].split('.')[1] ?? '').length, Number.isInteger(by) ? 0 : 1)
  return (Number(match[1]) + by).toFixed(digits) + match[2]
}

/** A time of printing. */
export function duration(s: number): string {
  const minutes = Math.round(s / 60)
  return minutes >= 60 ? `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}` : `${minutes} min`
}
export const grams = (g: number): string => `${g.toFixed(g < 10 ? 1 : 0)} g`
export const metres = (mm: number): string => (mm < 1000 ? `${(mm / 10).toFixed(0)} cm` : `${(mm / 1000).toFixed(1)} m`)
/** A deviation with its sign, in mm. */
export const signed = (mm: number, digits = 3): string => `${mm < 0 ? '−' : '+'}${Math.abs(mm).toFixed(digits)}`
