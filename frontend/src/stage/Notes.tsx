/** Margin notes: what is worth saying, beside the place that it speaks of, joined by a thin leader. */
import { useMemo } from 'react'
import { Vector3 } from 'three'
import type { Finding, Joint, Pinned } from '../api/client'
import { goTo } from '../desks/CheckDesk'
import { asShown, perWords } from '../gauges/shown'
import { send } from '../state/commands'
import { shownJoints, shownReport, useStore } from '../state/store'
import { tint } from '../widgets/Lozenge'
import { length, rowText } from '../widgets/figures'
import type { Viewer } from './viewer'

/** The room that a note takes, that each further line of it takes, and that the names of the views take. */
const [SMALL, LINE, FOOT] = [58, 18, 44]
/** What is shown where there is no room for all: what is pinned, then what is wrong, then what is doubtful. */
const RANK = ['text-ink2', 'text-wrong', 'text-warn']
const rank = (note: Note) => (RANK.includes(note.tint) ? RANK.indexOf(note.tint) : RANK.length)

interface Note { id: string; at: Vector3; head: string; text: string; tint: string; go: () => void; drop?: () => void }

export function Notes({ viewer }: { viewer: Viewer; frameCount: number }) {
  const joints = useStore(shownJoints)
  const unit = useStore((s) => s.project!.document.unit ?? 'mm')
  const desk = useStore((s) => s.desk)
  const focus = useStore((s) => s.focusJoint)
  const previewing = useStore((s) => !!s.preview)
  const checks = useStore((s) => shownReport(s)?.checks)
  const pinned = useStore((s) => shownReport(s)?.readings)
  const notes = useMemo(() => {
    if (previewing) return []
    const pins = (pinned ?? []).flatMap((r) => pinOf(r, unit))
    if (desk === 'check') return (checks ?? []).flatMap((c) => c.findings).flatMap(flagsOf).concat(pins)
    return joints.flatMap((j) => notesOf(j, unit, desk === 'join')).concat(pins)
  }, [joints, checks, pinned, unit, desk, previewing])
  const { width, height } = viewer.size
  // one below the other, under the parts' names, and all of them above the names of the views
  const tall = (note: Note) => SMALL + LINE * (Number(note.head.length > 24) + Number(note.text.length > 34))
  const top = Math.max(96, (document.querySelector('[data-parts]')?.getBoundingClientRect().bottom ?? 0) - viewer.canvas.getBoundingClientRect().top + 10)
  const seen = notes.filter((note) => !viewer.section.hides(note.at, 0.05))
  const first = (note: Note) => (focus && note.id.startsWith(`${focus}-`) ? -1 : rank(note))
  const shown = fitting([...seen].sort((a, b) => first(a) - first(b)), height - FOOT - top, tall)
  const more = seen.length - shown.length
  const placed = shown.map((note) => ({ note, p: viewer.eye.toScreen(note.at) })).sort((a, b) => a.p.y - b.p.y)
  let next = top
  const boxes = placed.map(({ note, p }) => {
    const y = Math.max(next, p.y - 30)
    next = y + tall(note)
    return { note, p, x: width - 236, y }
  })
  let foot = height - FOOT - (more ? 22 : 0)
  for (const box of [...boxes].reverse()) {
    box.y = Math.min(box.y, foot - tall(box.note))
    foot = box.y
  }
  return (
    <>
      <svg className="pointer-events-none absolute inset-0" width={width} height={height} aria-hidden>
        {boxes.map(({ note, p, x, y }) => (
          <g key={note.id} className={note.tint} stroke="currentColor" fill="none">
            <path d={`M${Math.round(p.x)} ${Math.round(p.y)}L${x - 18} ${y + 22}H${x}`} />
            <circle cx={Math.round(p.x)} cy={Math.round(p.y)} r="3" fill="currentColor" />
          </g>
        ))}
      </svg>
      {more > 0 && (
        <p className="pointer-events-none absolute right-3.5 bg-card px-1.5 text-[12.5px] text-ink2" style={{ top: height - FOOT - 20 }}>
          {more} more {desk === 'check' ? 'in the list' : 'among the gauges'}
        </p>
      )}
      {boxes.map(({ note, x, y }) => (
        <div key={note.id} data-note className={`absolute flex w-[222px] border bg-card ${note.tint}`} style={{ left: Math.round(x), top: Math.round(y) }}>
          <button className="min-w-0 flex-1 px-2.5 py-1 text-left leading-tight" onClick={note.go}>
            <span className="fig block font-semibold text-ink">{note.head}</span>
            <span className="text-[12.5px] text-ink2">{note.text}</span>
          </button>
          {note.drop && (
            <button aria-label={`take away: ${note.head}`} className="px-1.5 text-[12px] text-ink2 hover:text-wrong" onClick={note.drop}>
              ✕
            </button>
          )}
        </div>
      ))}
    </>
  )
}

/** As many of the first notes as there is room for; where not all fit, a line less, which says how many there are. */
function fitting(notes: Note[], room: number, tall: (note: Note) => number): Note[] {
  let [used, n] = [0, 0]
  while (n < notes.length && used + tall(notes[n]) <= room) used += tall(notes[n++])
  if (n < notes.length) while (n > 0 && used > room - 22) used -= tall(notes[--n])
  return notes.slice(0, n)
}

function notesOf(kept: Joint, unit: string, full: boolean): Note[] {
  const joint = asShown(kept)
  const m = joint.measured_mm
  if (!m) return []
  const middle = (pair: number[][]) => new Vector3().fromArray(pair[0]).add(new Vector3().fromArray(pair[1])).multiplyScalar(0.5)
  const even = m.most - m.least <= m.within
  const colour = tint(joint.state)
  const note = (which: 'least' | 'most'): Note => ({
    id: `${joint.step}-${which}`, at: middle(which === 'least' ? m.least_at : m.most_at), tint: colour,
    go: () => useStore.setState({ desk: 'join', focusJoint: joint.step }),
    head: `${length(m[which], unit)} ${perWords(joint)}`, text: `${joint.name}: ${even ? 'drawn gap' : `${which} drawn gap`}`,
  })
  if (even) return [note('least')]
  // where there is room for one note only, it stands where the fit fails
  const loose = joint.chance && joint.chance.holds < joint.chance.goes_in
  return full ? [note('least'), note('most')] : [note(loose ? 'most' : 'least')]
}

/** A finding's flag at its place. */
function flagsOf(finding: Finding, index: number): Note[] {
  if (!finding.place) return []
  return [{
    id: `finding-${index}`, at: new Vector3().fromArray(finding.place), tint: tint(finding.state),
    head: finding.figure, text: finding.says, go: () => goTo(finding),
  }]
}

/** A pinned reading, at the middle of what it was taken between. */
function pinOf(reading: Pinned, unit: string): Note[] {
  const drop = () => void send({ do: 'RemoveReading', reading: reading.id })
  const [first, ...rest] = reading.rows
  // one whose thing is lost has no place any more: it says so at the middle of the ground
  if (!first) return [{ id: reading.id, at: new Vector3(), tint: 'text-wrong', head: 'reading lost', text: reading.message, go: () => {}, drop }]
  const at = new Vector3().fromArray(first.ends[0]).add(new Vector3().fromArray(first.ends[1])).multiplyScalar(0.5)
  return [{
    id: reading.id, at, tint: 'text-ink2', head: rowText(first, unit),
    text: [`${first.what}, as drawn`, ...rest.slice(0, 1).map((r) => `${r.what} ${rowText(r, unit)}`)].join('; '),
    go: () => useStore.getState().viewer?.eye.centre(at), drop,
  }]
}
