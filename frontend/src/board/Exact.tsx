/** Drawing by figures: places, formulas and words written into the tray, for exactness and for the keyboard. */
import { useState } from 'react'
import { send, useStore } from '../state/store'
import { CLICKS, type Spot, type Tool } from './drawing'
import { type Vec2, between } from './geometry'

const say = (step: string, text: string) => useStore.setState({ said: { text, step } })

const UNITS: Record<string, number> = { '': 1, mm: 1, cm: 10, in: 25.4 }

/** A figure of a place as it is written, with its unit or without, in mm; not a number where it is none. */
function placed(text: string): number {
  const found = /^\s*([-+]?(?:\d+\.?\d*|\.\d+))\s*(mm|cm|in)?\s*$/.exec(text)
  return found ? Number(found[1]) * UNITS[found[2] ?? ''] : NaN
}

function Alert({ step }: { step: string }) {
  const said = useStore((s) => s.said)
  return said?.step === step ? (
    <p role="alert" className="col-span-2 text-[12.5px] text-wrong">
      {said.text}
    </p>
  ) : null
}

/** Any shape by the places of its clicks. A line goes on from where the last one ended. */
export function Places({ tool, at, make }: { tool: Tool; at: Record<string, Vec2>; make: (spots: Spot[], exact: true) => Promise<unknown> }) {
  const [texts, setTexts] = useState<string[]>(['0', '0'])
  const [run, setRun] = useState('')
  const words = CLICKS[tool].flatMap((word) => [`${word} x`, `${word} y`])
  /** The point that is at a place already. */
  const spot = (place: Vec2): Spot => ({ at: place, on: Object.keys(at).find((p) => between(at[p], place) < 1e-4) ?? null })
  const draw = async () => {
    const figures = tool === 'spline' ? run.split(/[\s,;]+/).filter(Boolean).map(placed) : words.map((_, k) => placed(texts[k] ?? ''))
    if (!figures.every(Number.isFinite) || figures.length % 2) {
      say('places', tool === 'spline' ? 'Write the places as pairs of plain figures in mm: 0 0, 10 5, 20 0.' : 'A place needs two figures, such as 12 or 0.5 in; a figure without a unit is in mm.')
      return
    }
    const spots = Array.from({ length: figures.length / 2 }, (_, k) => spot([figures[2 * k], figures[2 * k + 1]]))
    if (await make(spots, true)) {
      setTexts(tool === 'line' || tool === 'arc' ? [texts[2], texts[3]] : ['0', '0'])
      setRun('')
    }
  }
  const field = 'field fig py-0! text-ink'
  return (
    <form className="mt-1 grid grid-cols-2 gap-x-2" onSubmit={(e) => (e.preventDefault(), void draw())}>
      {tool === 'spline' ? (
        <label className="col-span-2">
          places
          <input className={field} data-first-figure placeholder="0 0, 10 5, 20 0" value={run} spellCheck={false} onChange={(e) => setRun(e.target.value)} />
        </label>
      ) : (
        words.map((word, k) => (
          <label key={word} className="min-w-0">
            <span className="block truncate">{word}</span>
            <input className={field} data-first-figure={k === 0 || undefined} value={texts[k] ?? ''} spellCheck={false} onChange={(e) => setTexts(words.map((_, i) => (i === k ? e.target.value : (texts[i] ?? ''))))} />
          </label>
        ))
      )}
      <button className="plain col-span-2 mt-1 py-0! text-ink" type="submit">
        draw
      </button>
      <Alert step="places" />
    </form>
  )
}

/** A rectangle or a circle by figures: a place and formulas, for exactness and for the keyboard. */
export function Exact({ tool, step, how, drawn }: { how: string; tool: Tool; step: string; drawn: () => void }) {
  const [x, setX] = useState('0')
  const [y, setY] = useState('0')
  const [a, setA] = useState('')
  const [b, setB] = useState('')
  const round = tool === 'circle'
  const place: [number, number] = [placed(x), placed(y)]
  const draw = async () => {
    if (!place.every(Number.isFinite)) {
      useStore.setState({ said: { text: 'The place needs two figures from the origin, such as 12 or 0.5 in; a figure without a unit is in mm.', step: 'exact' } })
      return
    }
    const on = place[0] === 0 && place[1] === 0 ? 'origin' : null
    // a start near enough for the solver; the formulas then say how large it is
    const command = round
      ? { do: 'DrawCircle', step, centre: place, on, radius: 10, diameter: a }
      : { do: 'DrawRectangle', step, first: place, corner: [place[0] + 20, place[1] + 15], by_centre: tool === 'centre', on, width: a, height: b }
    if (await send(command, { step: 'exact' })) drawn()
  }
  const field = (label: string, value: string, set: (v: string) => void, first = false) => (
    <label className="text-[12.5px] text-ink2">
      {label}
      <input className="field fig py-0.5! text-ink" data-first-figure={first || undefined} value={value} spellCheck={false} onChange={(e) => set(e.target.value)} />
    </label>
  )
  return (
    <form className="grid grid-cols-2 gap-x-2 gap-y-1" onSubmit={(e) => (e.preventDefault(), void draw())}>
      <p className="col-span-2 text-[12.5px] text-ink2">{how} Or write it:</p>
      {round ? <div className="col-span-2">{field('diameter', a, setA, true)}</div> : <div className="col-span-2">{field('width', a, setA, true)}</div>}
      {!round && <div className="col-span-2">{field('height', b, setB)}</div>}
      {field(tool === 'corner' ? 'corner x' : 'centre x', x, setX)}
      {field(tool === 'corner' ? 'corner y' : 'centre y', y, setY)}
      <button className="strong col-span-2 mt-1" type="submit" disabled={!a.trim() || (!round && !b.trim())}>
        draw
      </button>
      <Alert step="exact" />
    </form>
  )
}
