/** What can be done with what is selected on the board. */
import { useState } from 'react'
import type { SketchOut } from '../api/client'
import { send } from '../state/commands'
import { useStore } from '../state/store'
import { toBegin } from '../widgets/figures'
import { arrowThrough } from '../widgets/focus'
import { Stops } from '../widgets/Stops'
import { ends } from './drawing'
import type { SketchDoc, SketchRepeat } from './geometry'
import type { SizeWay } from './sizing'
import { tieWord } from './words'

interface Props {
  chosen: string[]
  sketch: SketchDoc
  out: SketchOut | undefined
  sources: string[]
  step: string
  size: (how?: SizeWay) => void
  take: (ids: string[]) => void
  aim: (curve: string) => void
}
const ITEM = 'flex w-full justify-between px-3 py-0.5 text-left hover:bg-row'

export function Work({ chosen, sketch, out, sources, step, size, take, aim }: Props) {
  const kinds = chosen.map((c) => sketch.curves.find((k) => k.id === c)?.kind ?? 'point')
  const two = kinds.length === 2 && kinds.every((k) => k === 'point')
  const long = kinds.every((k) => ['line', 'arc', 'circle', 'spline'].includes(k)) && !(kinds.length === 1 && kinds[0] === 'line')
  const ties = fitting(chosen, sketch)
  const text = chosen.length === 1 ? sketch.curves.find((c) => c.id === chosen[0] && c.kind === 'text') : undefined
  const does = (word: string, how: SizeWay, key = '') => (
    <button className={ITEM} onClick={() => size(how)}>
      {word}
      {key && <span className="key">{key}</span>}
    </button>
  )
  return (
    <div role="group" aria-label="what is selected" data-verbs onKeyDown={(e) => arrowThrough(e, e.currentTarget.querySelectorAll<HTMLElement>('button')) && e.stopPropagation()} className="min-h-0 overflow-y-auto border border-ink bg-card py-1">
      <p className="px-3 text-[12.5px] text-ink2">{said(chosen, sketch)}</p>
      {text && <Words key={text.id} id={text.id} text={text.text ?? ''} step={step} />}
      {does('give it a size', 'drive', 'd')}
      {two && does('size across', 'across')}
      {two && does('size up', 'up')}
      {long && does(kinds.length > 1 ? 'length of all' : 'length along it', 'along')}
      {does('only read it', 'read')}
      {ties.length > 0 && (
        <p className="flex flex-wrap gap-x-2.5 px-3 py-0.5">
          <span className="text-ink2">tie</span>
          {ties.map((kind) => (
            <button
              key={kind}
              aria-label={`tie: ${tieWord(kind)}`}
              className="border-b border-dotted border-ink hover:bg-row"
              onClick={() => void send({ do: 'TieSketch', step, kind, of: ordered(kind, chosen, sketch) }, { step: 'board' })}
            >
              {tieWord(kind)}
            </button>
          ))}
        </p>
      )}
      <Shaping {...{ chosen, sketch, step }} />
      <Sources {...{ chosen, out, sources, step, aim }} />
      <button className={ITEM} onClick={() => take(chosen)}>
        take away<span className="key">del</span>
      </button>
    </div>
  )
}

/** Other words for a text. */
function Words({ id, text, step }: { id: string; text: string; step: string }) {
  const [now, setNow] = useState(text)
  return (
    <form
      className="px-3 py-1"
      onSubmit={(e) => {
        e.preventDefault()
        if (now !== text) void send({ do: 'RewordSketch', step, id, text: now }, { step: 'board' })
      }}
      onKeyDown={(e) => e.stopPropagation()}
    >
      <input className="field py-0!" aria-label="words of the text" maxLength={80} value={now} onChange={(e) => setNow(e.target.value)} />
    </form>
  )
}

const KINDS: Record<string, string> = { line: 'line', circle: 'circle', arc: 'arc', ellipse: 'ellipse', spline: 'spline', text: 'text', point: 'point' }

/** What is selected, in a few words: “2 lines, 1 point”. */
function said(chosen: string[], sketch: SketchDoc): string {
  const counts = new Map<string, number>()
  for (const id of chosen) {
    const tie = sketch.constraints.some((t) => t.id === id)
    const word = tie ? 'tie' : KINDS[sketch.curves.find((c) => c.id === id)?.kind ?? 'point']
    counts.set(word, (counts.get(word) ?? 0) + 1)
  }
  return [...counts].map(([word, n]) => (n > 1 ? `${n} ${word}s` : `a${/^[ae]/.test(word) ? 'n' : ''} ${word}`)).join(', ')
}

/** Ties that make sense for what is selected. */
function fitting(chosen: string[], sketch: SketchDoc): string[] {
  const kinds = chosen.map((c) => sketch.curves.find((k) => k.id === c)?.kind ?? (c === 'origin' || sketch.points.some((p) => p.id === c) ? 'point' : 'other'))
  if (kinds.includes('other')) return []
  const count = (k: string) => kinds.filter((x) => x === k).length
  const round = count('circle') + count('arc')
  const free = count('spline')
  if (count('text')) return []
  if (kinds.length === 1) return kinds[0] === 'line' ? ['horizontal', 'vertical'] : kinds[0] === 'point' && chosen[0] !== 'origin' ? ['fixed'] : []
  if (kinds.length === 2 && count('line') === 2) return ['parallel', 'perpendicular', 'equal', 'collinear']
  if (kinds.length === 2 && count('point') === 2) return ['coincident', 'horizontal', 'vertical']
  if (kinds.length === 2 && count('point') === 1) return count('line') ? ['point_on', 'midpoint'] : ['point_on']
  if (kinds.length === 2 && free && free + round + count('line') === 2) return ['tangent', 'smooth']
  if (kinds.length === 2 && count('ellipse') && count('line')) return ['tangent']
  if (kinds.length === 2 && count('ellipse')) return round + count('ellipse') === 2 ? ['concentric'] : []
  if (kinds.length === 2 && round === 2) return ['tangent', 'equal', 'concentric']
  if (kinds.length === 2 && round === 1 && count('line') === 1) return ['tangent']
  if (kinds.length === 3 && count('point') === 3) return ['midpoint']
  if (kinds.length === 3 && count('point') === 2 && count('line') === 1) return ['symmetric']
  if (kinds.length > 2 && (count('line') === kinds.length || round === kinds.length)) return ['equal']
  return []
}

/** What follows a part can be cut off from it, or aimed at another thing. */
function Sources({ chosen, out, sources, step, aim }: Pick<Props, 'chosen' | 'out' | 'sources' | 'step' | 'aim'>) {
  const followers = chosen.filter((c) => sources.includes(c))
  if (!followers.length) return null
  const lost = followers.find((c) => out?.lost[c])
  return (
    <>
      {lost && <p className="px-3 text-[12.5px] text-warn">◆ {out!.lost[lost]}</p>}
      {followers.length === 1 && (
        <button className={ITEM} onClick={() => aim(followers[0])}>
          aim at another thing
        </button>
      )}
      <button className={ITEM} onClick={() => void send({ do: 'FreezeSources', step, curves: followers }, { step: 'board' })}>
        freeze where it is
      </button>
    </>
  )
}

type Form = 'again' | 'rows' | 'ring' | 'off' | 'round' | 'cut' | 'shift'

/** Repeats, offsets, corners, mirrors, copies, construction. */
function Shaping({ chosen, sketch, step }: Pick<Props, 'chosen' | 'sketch' | 'step'>) {
  const [form, setForm] = useState<Form | null>(null)
  const [corner, setCorner] = useState<'sharp' | 'round'>('sharp')
  const curveOf = (id: string) => sketch.curves.find((k) => k.id === id)
  const curves = chosen.filter((c) => curveOf(c))
  const all = curves.length > 0 && curves.length === chosen.length
  const meeting = (kinds: string[]) => chosen.filter((p) => sketch.curves.filter((c) => kinds.includes(c.kind) && ends(c).includes(p)).length === 2)
  const [corners, rounds] = [meeting(['line']), meeting(['line', 'arc'])]
  const last = curveOf(chosen[chosen.length - 1])
  const on = curves.some((c) => !curveOf(c)!.construction)
  const circles = all && curves.every((c) => curveOf(c)!.kind === 'circle')
  const round = circles || curves.flatMap((c) => ends(curveOf(c)!)).every((p, _, all) => all.filter((q) => q === p).length === 2)
  const chain = circles || (all && curves.every((c) => ends(curveOf(c)!).length && curveOf(c)!.kind !== 'spline'))
  const isPoint = (id: string) => id === 'origin' || sketch.points.some((p) => p.id === id)
  // round the point that was selected last, or else round the origin
  const centre = all ? 'origin' : chosen.length > 1 && curves.length === chosen.length - 1 && isPoint(chosen[chosen.length - 1]) ? chosen[chosen.length - 1] : null
  const at = { step: 'board' }
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const first = (text: string) => toBegin(text, unit)
  const leave = () => setForm(null)
  const open = (which: Form, word: string, shown: boolean) =>
    shown && (
      <button className={`${ITEM} ${form === which ? 'font-semibold' : ''}`} aria-expanded={form === which} onClick={() => setForm(form === which ? null : which)}>
        {word} …
      </button>
    )
  const repeat = (sketch.repeats ?? []).find((r) => chosen.length > 0 && chosen.every((c) => r.of.includes(c) || r.copies.some((copy) => Object.values(copy.names).includes(c))))
  return (
    <>
      {repeat && open('again', `stands ${repeat.counts[0] * repeat.counts[1]} times`, true)}
      {form === 'again' && repeat && <Again key={repeat.id} {...{ repeat, sketch, step, leave }} />}
      {open('rows', 'repeat in rows', all)}
      {form === 'rows' && all && (
        <Figures
          fields={[['across', '3'], ['apart', first('10 mm')], ['deep', '1'], ['apart, deep', first('10 mm')]]}
          leave={leave}
          take={([across, pitch_x, deep, pitch_y]) => send({ do: 'RepeatSketch', step, ids: curves, across, deep, pitch_x, pitch_y }, at)}
        />
      )}
      {open('ring', `repeat round ${centre === 'origin' ? 'the origin' : 'the point'}`, !!centre)}
      {form === 'ring' && centre && <Figures fields={[['times', '6']]} leave={leave} take={([count]) => send({ do: 'RingSketch', step, ids: curves, centre, count }, at)} />}
      {open('off', 'set off beside', chain)}
      {form === 'off' && chain && (
        <>
          {!circles && <div className="flex items-center gap-2 bg-sheet px-3 pt-1.5 text-[12.5px]">
            corners <Stops name="corners" value={corner} options={[['sharp', 'sharp'], ['round', 'round']] as const} set={setCorner} small />
          </div>}
          <Figures
            fields={[['by', first('3 mm')]]}
            word={round ? 'outside' : 'take'}
            also={round ? 'inside' : 'other side'}
            leave={leave}
            take={([distance, also]) => send({ do: 'OffsetSketch', step, ids: curves, distance, other_side: !!also, rounded: corner === 'round' }, at)}
          />
        </>
      )}
      {open('shift', 'move or copy', all)}
      {form === 'shift' && all && (
        <Figures fields={[['right', first('10 mm')], ['up', '0 mm']]} word="move" also="copy" leave={leave} take={([right, up, also]) => send({ do: 'ShiftSketch', step, ids: curves, right, up, copied: !!also }, at)} />
      )}
      {open('round', `round ${rounds.length > 1 ? `${rounds.length} corners` : 'the corner'}`, rounds.length > 0 && rounds.length === chosen.length)}
      {form === 'round' && rounds.length > 0 && <Figures fields={[['radius', first('3 mm')]]} leave={leave} take={([radius]) => send({ do: 'RoundSketch', step, corners: rounds, radius }, at)} />}
      {open('cut', `cut ${corners.length > 1 ? `${corners.length} corners` : 'the corner'}`, corners.length > 0 && corners.length === chosen.length)}
      {form === 'cut' && corners.length > 0 && <Figures fields={[['back by', first('3 mm')]]} leave={leave} take={([distance]) => send({ do: 'CutCornersSketch', step, corners, distance }, at)} />}
      {all && (
        <button className={ITEM} onClick={() => void send({ do: 'ConstructSketch', step, ids: curves, on }, at)}>
          {on ? 'make construction' : 'make real'}
          <span className="key">c</span>
        </button>
      )}
      {all && curves.length > 1 && last?.kind === 'line' && (
        <button className={ITEM} onClick={() => void send({ do: 'MirrorSketch', step, ids: curves.slice(0, -1), axis: last.id }, at)}>
          mirror in the last one
        </button>
      )}
    </>
  )
}

/** How often, and how far apart, what is repeated already stands. */
function Again({ repeat, sketch, step, leave }: { repeat: SketchRepeat; sketch: SketchDoc; step: string; leave: () => void }) {
  const at = { step: 'board' }
  const said = (k: 0 | 1) => repeat.by?.[k] || String(repeat.counts[k])
  const change = (counts: string[], pitches: string[]) =>
    send({ do: 'ChangeRepeat', step, repeat: repeat.id, across: counts[0], deep: counts[1], pitch_x: pitches[0], pitch_y: pitches[1] }, at)
  if (repeat.centre) return <Figures fields={[['times', said(0)]]} leave={leave} take={([times]) => change([times, '1'], ['', ''])} />
  // the size on the board may say another distance by now
  const apart = ['distance_x', 'distance_y'].map((kind, k) => sketch.dimensions.find((d) => repeat.made.includes(d.id) && d.kind === kind && !d.follows)?.formula ?? (repeat.pitches[k] || '10 mm'))
  return (
    <Figures
      fields={[['across', said(0)], ['apart', apart[0]], ['deep', said(1)], ['apart, deep', apart[1]]]}
      leave={leave}
      take={([across, x, deep, y]) => change([across, deep], [x, y])}
    />
  )
}

/** A few figures to fill in for what is done with a selection. */
function Figures({ fields, word = 'take', also, take, leave }: { fields: [string, string][]; word?: string; also?: string; take: (texts: string[]) => Promise<unknown>; leave: () => void }) {
  const [texts, setTexts] = useState(fields.map(([, first]) => first))
  return (
    <form
      className="grid grid-cols-2 gap-x-2 gap-y-0.5 border-y border-hair bg-sheet px-3 py-1.5"
      onSubmit={async (e) => {
        e.preventDefault()
        if (await take(texts)) leave()
      }}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Escape') leave()
      }}
    >
      {fields.map(([label], k) => (
        <label key={label} className={`text-[12.5px] text-ink2 ${also && fields.length === 1 ? 'col-span-2' : ''}`}>
          {label}
          <input className="field fig py-0! text-ink" autoFocus={k === 0} value={texts[k]} spellCheck={false} onChange={(e) => setTexts(texts.map((t, i) => (i === k ? e.target.value : t)))} />
        </label>
      ))}
      <button className={`strong mt-1 py-0! ${also ? '' : 'col-span-2'}`} type="submit">
        {word}
      </button>
      {also && (
        <button className="plain mt-1 px-1! py-0! text-[13px]" type="button" onClick={async () => (await take([...texts, also])) && leave()}>
          {also}
        </button>
      )}
    </form>
  )
}

/** The point goes before the line or the two points that it is tied to. */
function ordered(kind: string, chosen: string[], sketch: SketchDoc): string[] {
  if (kind !== 'point_on' && kind !== 'midpoint' && kind !== 'symmetric') return chosen
  return [...chosen].sort((a, b) => Number(sketch.curves.some((c) => c.id === a)) - Number(sketch.curves.some((c) => c.id === b)))
}
