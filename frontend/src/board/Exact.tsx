/** Drawing by figures: places and formulas written into the tray, for exactness and for the keyboard. */
import { useState } from 'react'
import { type Command, Refusal, api } from '../api/client'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { CLICKS, type Spot, type Tool } from './drawing'
import { type Vec2, between } from './geometry'

const say = (step: string, text: string) => useStore.setState({ said: { text, step } })

/** What formulas of lengths come to in mm; where one cannot be read that is said, and nothing comes back. */
async function figuresOf(step: string, formulas: string[]): Promise<number[] | null> {
  if (formulas.some((f) => !f.trim())) {
    say(step, 'A place needs two figures, such as 12, 0.5 in or wall + 2 mm; a figure without a unit is in the unit of the project.')
    return null
  }
  try {
    return await api.figures(useStore.getState().id, formulas)
  } catch (error) {
    say(step, error instanceof Refusal ? error.message : 'Those figures cannot be read.')
    return null
  }
}

function Alert({ step }: { step: string }) {
  const said = useStore((s) => s.said)
  return said?.step === step ? (
    <p role="alert" className="col-span-2 text-[12.5px] text-wrong">
      {said.text}
    </p>
  ) : null
}

/** Whether a written place stays as sizes from the origin. */
function Kept({ kept, set }: { kept: boolean; set: (kept: boolean) => void }) {
  return (
    <label className="col-span-2 mt-1 flex items-center gap-1.5 text-[12.5px] text-ink2" title="the place stays where it was written, by sizes from the origin">
      <input type="checkbox" className="box" checked={kept} onChange={(e) => set(e.target.checked)} />
      hold it there
    </label>
  )
}

/** Any shape by the places of its clicks. A line goes on from where the last one ended. */
export function Places({ tool, at, make }: { tool: Tool; at: Record<string, Vec2>; make: (spots: Spot[]) => Promise<unknown> }) {
  const [texts, setTexts] = useState<string[]>(['0', '0'])
  const [run, setRun] = useState('')
  const [kept, setKept] = useState(true)
  const words = CLICKS[tool].flatMap((word) => [`${word} x`, `${word} y`])
  const draw = async () => {
    const formulas = tool === 'spline' ? run.split(/[\s,;]+/).filter(Boolean) : words.map((_, k) => texts[k] ?? '')
    if (formulas.length % 2 || !formulas.length) return say('places', 'Write the places as pairs, such as 0 0, 10 5, 20 0.')
    const figures = await figuresOf('places', formulas)
    if (!figures) return
    const spots = Array.from({ length: figures.length / 2 }, (_, k): Spot => {
      const place: Vec2 = [figures[2 * k], figures[2 * k + 1]]
      const there = Object.keys(at).find((p) => between(at[p], place) < 1e-4)
      return { at: place, on: there ?? null, ...(kept && !there ? { x: formulas[2 * k], y: formulas[2 * k + 1] } : {}) }
    })
    if (await make(spots)) {
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
      <Kept kept={kept} set={setKept} />
      <button className="plain col-span-2 mt-1 py-0! text-ink" type="submit">
        draw
      </button>
      <Alert step="places" />
    </form>
  )
}

/** A rectangle or a circle by figures: a place and its sizes. */
export function Exact({ tool, step, how, drawn }: { how: string; tool: Tool; step: string; drawn: () => void }) {
  const [x, setX] = useState('0')
  const [y, setY] = useState('0')
  const [a, setA] = useState('')
  const [b, setB] = useState('')
  const [kept, setKept] = useState(true)
  const round = tool === 'circle'
  const draw = async () => {
    const place = (await figuresOf('exact', [x, y])) as Vec2 | null
    if (!place) return
    const [px, py] = place
    const on = px === 0 && py === 0 ? 'origin' : null
    const where = kept && !on ? { x, y } : {}
    // a start near enough for the solver; the formulas then say how large it is
    const command: Command = round
      ? { do: 'DrawCircle', step, centre: place, on, radius: 10, diameter: a, ...where }
      : { do: 'DrawRectangle', step, first: place, corner: [px + 20, py + 15], by_centre: tool === 'centre', on, width: a, height: b, ...where }
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
      <div className="col-span-2">{field(round ? 'diameter' : 'width', a, setA, true)}</div>
      {!round && <div className="col-span-2">{field('height', b, setB)}</div>}
      {field(tool === 'corner' ? 'corner x' : 'centre x', x, setX)}
      {field(tool === 'corner' ? 'corner y' : 'centre y', y, setY)}
      <Kept kept={kept} set={setKept} />
      <button className="strong col-span-2 mt-1" type="submit" disabled={!a.trim() || (!round && !b.trim())}>
        draw
      </button>
      <Alert step="exact" />
    </form>
  )
}
