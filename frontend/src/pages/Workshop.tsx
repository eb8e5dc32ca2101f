/** An open project: head, side sheet, stage, gauges. */
import { useEffect, useState } from 'react'
import { CheckDesk } from '../desks/CheckDesk'
import { LearnDesk } from '../desks/learn/LearnDesk'
import { LearnPage } from '../desks/learn/LearnPage'
import { JoinDesk } from '../desks/JoinDesk'
import { PrintDesk } from '../desks/PrintDesk'
import { GaugeStrip } from '../gauges/GaugeStrip'
import { DESKS } from '../head/DeskLine'
import { Head } from '../head/Head'
import { Keys } from '../head/Keys'
import { BringParts } from '../palette/BringParts'
import { Palette } from '../palette/Palette'
import { PartsRow } from '../parts/PartsRow'
import { Recipe } from '../recipe/Recipe'
import { startApart } from '../stage/ApartBar'
import { startCut } from '../stage/CutBar'
import { keepAddress } from '../state/address'
import { keepDrafts } from '../state/drafts'
import { Stage } from '../stage/Stage'
import { refreshWorkshop } from '../state/workshop'
import { lookAt } from '../state/looking'
import { closeProject, openProject } from '../state/project'
import { useStore } from '../state/store'
import { dropDraft, leaveChip, travel } from '../state/writing'

export function Workshop({ id, onHome }: { id: string; onHome: () => void }) {
  const project = useStore((s) => s.project)
  const kinds = useStore((s) => s.kinds)
  const desk = useStore((s) => s.desk)
  const folded = useStore((s) => s.folded)
  const board = useStore((s) => s.board)
  const said = useStore((s) => s.said)
  const other = useStore((s) => s.other)
  const keys = useStore((s) => s.keys)
  const setKeys = (shown: boolean) => useStore.setState({ keys: shown })
  const [missing, setMissing] = useState('')

  useEffect(() => {
    openProject(id).catch((e) => setMissing(e.message))
    return closeProject
  }, [id])
  const loaded = !!project
  useEffect(() => (loaded ? keepAddress() : undefined), [id, loaded])
  useEffect(() => (loaded ? keepDrafts() : undefined), [id, loaded])
  // what was printed and kept comes after the model is there
  const ready = useStore((s) => !!s.report?.measured)
  useEffect(() => {
    if (ready) void refreshWorkshop()
  }, [id, ready])
  useEffect(() => {
    document.title = project ? `${project.document.name} · Dove Joint` : 'Dove Joint'
  }, [project])

  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement
      // a slide takes no letters
      const typing = /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && (target as HTMLInputElement).type !== 'range'
      const state = useStore.getState()
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && !typing) {
        e.preventDefault()
        void travel(e.shiftKey ? 'redo' : 'undo')
        return
      }
      if (typing || e.ctrlKey || e.metaKey || e.altKey || state.palette || keys) return
      const focus = (selector: string) => document.querySelector<HTMLElement>(selector)?.focus()
      const act: Record<string, () => void> = {
        n: () => useStore.setState({ palette: { after: null }, desk: 'shape' }),
        '/': () => useStore.setState({ palette: { after: null, find: true } }),
        '?': () => setKeys(true),
        r: () => (useStore.setState({ desk: 'shape', folded: false }), requestAnimationFrame(() => focus(`[data-step="${state.focusStep ?? ''}"]`) ?? focus('[data-step]'))),
        v: () => (useStore.setState({ desk: 'shape', folded: false }), requestAnimationFrame(() => document.querySelector<HTMLElement>('[data-new-value]')?.click())),
        g: () => focus('[data-gauge]'),
        m: () => focus('#stage'),
        x: startCut,
        d: startApart,
        Escape: () => {
          if (state.open) leaveChip()
          else if (state.draft) dropDraft()
          else if (state.upto) void lookAt(null)
          else useStore.setState({ selected: [], said: null })
        },
      }
      const number = Number(e.key)
      if (number >= 1 && number <= 5 && !board) useStore.setState({ desk: DESKS[number - 1][0] })
      else if (act[e.key] && !(board && e.key !== '?')) {
        e.preventDefault()
        act[e.key]()
      }
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  }, [board, keys])

  if (missing) {
    return (
      <main className="p-10">
        <p className="mb-3 text-[17px]">{missing}</p>
        <button className="strong" onClick={onHome}>
          All projects
        </button>
      </main>
    )
  }
  if (!project || !kinds) return <p className="p-10 text-ink2">opening …</p>
  const unplaced = said && !said.step ? said.text : ''
  return (
    <div className="flex h-full flex-col">
      <Head onHome={onHome} onKeys={() => setKeys(true)} />
      <div className="flex min-h-0 flex-1">
        {!folded && (
          <aside aria-label={`${desk} sheet`} className="flex w-[334px] shrink-0 flex-col border-r border-ink bg-sheet">
            {desk === 'shape' && <Recipe />}
            {desk === 'join' && <JoinDesk />}
            {desk === 'check' && <CheckDesk />}
            {desk === 'print' && <PrintDesk />}
            {desk === 'learn' && <LearnDesk />}
            {unplaced && (
              <p role="alert" className="flex items-start justify-between gap-2 border-t border-wrong bg-card px-4 py-2 text-[13.5px] text-wrong">
                {unplaced}
                <button aria-label="close" onClick={() => useStore.setState({ said: null })}>
                  ✕
                </button>
              </p>
            )}
          </aside>
        )}
        <div className="relative flex min-w-0 flex-1">
          <Stage />
          {!board && !other && <PartsRow />}
          {desk === 'learn' && !other && <LearnPage />}
          <button
            aria-label={folded ? 'unfold the side sheet' : 'fold the side sheet away'}
            aria-expanded={!folded}
            title={folded ? 'unfold the side sheet' : 'fold the side sheet away'}
            className="absolute top-1/2 left-0 z-10 h-12 w-3.5 border border-l-0 border-hair bg-sheet text-[10px] text-ink2 hover:bg-row"
            onClick={() => useStore.setState({ folded: !folded })}
          >
            {folded ? '›' : '‹'}
          </button>
        </div>
      </div>
      <GaugeStrip />
      <Palette />
      <BringParts />
      <Keys open={keys} close={() => setKeys(false)} />
    </div>
  )
}
