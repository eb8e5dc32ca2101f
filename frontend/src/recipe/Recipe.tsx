/** The recipe: an ordered list of sentences, under the part that each of them makes. */
import { Fragment, memo, useEffect, useMemo, useRef, useState } from 'react'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import { stepFields } from '../state/chips'
import { send } from '../state/commands'
import { shownChips } from '../state/fields'
import { lookAt } from '../state/looking'
import { shownReport, useStore } from '../state/store'
import { dropDraft, keepDraft, openBoard, openChip } from '../state/writing'
import type { Fields, Segment } from '../api/client'
import { Sentence } from '../sentence/Sentence'
import { arrowThrough } from '../widgets/focus'
import { beside, dragStep, move, useMove, whyNot } from './move'
import { ChapterHead, fold, turnChapter, useBegun, useFolded } from './Chapter'
import { Links } from './Links'
import { Strands } from './Strands'
import { useNear } from './near'
import { Values } from './Values'

/** Recipes of so many steps are made whole; of longer ones only the rows near what is seen. */
const FEW = 60

export function Recipe() {
  const project = useStore((s) => s.project)!
  const draft = useStore((s) => s.draft)
  const recipe = project.document.recipe!
  /** Under which part each step stands, where that is another one than before. */
  const headings = useMemo(() => {
    const names = new Map(project.document.parts!.map((p) => [p.id, p.name]))
    // what shapes no part (an outline, a plane) belongs to what is made of it
    const parts: (string | undefined)[] = []
    for (let i = recipe.length - 1; i >= 0; i--) {
      const said = project.steps[recipe[i].id]
      parts[i] = said?.makes[0] ?? said?.changes[0] ?? parts[i + 1]
    }
    let made: string | undefined
    return parts.map((part) => (!part || part === made ? null : (names.get((made = part)) ?? null)))
  }, [project, recipe])
  const folded = useFolded()
  const begun = useBegun()
  const bad = useStore((s) => (s.report?.steps ?? []).filter((r) => r.state === 'failed' || r.state === 'asks').map((r) => r.id).join())
  /** The chapter that each step stands in, by the step that it begins at. */
  const chapters = useMemo(() => {
    let now = ''
    return recipe.map((s) => (s.chapter ? (now = s.id) : now))
  }, [recipe])
  const focused = useStore((s) => s.focusStep)
  // who goes to a step finds it, also in a chapter that is folded
  useEffect(() => {
    const chapter = chapters[recipe.findIndex((s) => s.id === focused)]
    if (chapter && chapter !== focused && folded.has(chapter)) fold(chapter, false)
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [focused])
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="min-h-0 flex-1 overflow-y-auto" data-scroll>
        <Values />
        <ol aria-label="recipe" onKeyDown={(e) => arrowThrough(e, e.currentTarget.querySelectorAll<HTMLElement>('[data-step]'))} className="relative pb-2">
          {draft && draft.after === '' && <DraftItem number={1} />}
          {recipe.map((step, index) => {
            const title = headings[index]
            const away = folded.has(chapters[index])
            const mine = step.chapter ? recipe.filter((_, k) => chapters[k] === step.id) : []
            return (
              <Fragment key={step.id}>
                {(step.chapter || begun === step.id) && (
                  <ChapterHead step={step.id} title={step.chapter ?? ''} note={step.chapter_note ?? ''} folded={away} count={mine.length} wrong={mine.filter((s) => bad.split(',').includes(s.id)).length} />
                )}
                {title && !away && (
                  <li role="presentation" className="flex items-baseline justify-between px-4 pt-3 pb-0.5 font-semibold">
                    {title}
                  </li>
                )}
                {!away && <Item id={step.id} index={index} whole={recipe.length <= FEW} />}
                {draft && draft.after === step.id && <DraftItem number={index + 2} />}
              </Fragment>
            )
          })}
          {draft && draft.after === null && <DraftItem number={recipe.length + 1} />}
          <li role="presentation">
            <Strands />
          </li>
        </ol>
        {!recipe.length && !draft && <FirstSteps />}
        <Links />
      </div>
      {!draft && (
        <div className="border-t border-hair px-4 py-2.5">
          <button
            data-next
            className="flex w-full items-center justify-between border border-dashed border-ink2 px-3 py-1.5 text-left text-ink2 hover:bg-row"
            onClick={() => useStore.setState({ palette: { after: null } })}
          >
            Next step …<span className="key">n</span>
          </button>
        </div>
      )}
    </div>
  )
}

function FirstSteps() {
  return (
    <div className="px-4 py-3 text-ink2">
      <p className="mb-2">Here the recipe grows: each step one sentence. Begin with an outline, then pull it up into a part.</p>
      <button data-first className="strong" onClick={() => useStore.setState({ palette: { after: null } })}>
        Write the first step
      </button>
    </div>
  )
}

/** One step. It looks at its own part of the state only, so that an edit draws again what it changed; in a long recipe it is an empty row
 * as long as it is far from what is seen. */
const Item = memo(function Item({ id, index, whole }: { id: string; index: number; whole: boolean }) {
  const kinds = useStore((s) => s.kinds)!
  const step = useStore((s) => s.project!.document.recipe![index])
  const own = useStore((s) => s.project!.steps[id])
  const report = useStore((s) => {
    const shown = s.preview?.report ?? (s.upto ? s.uptoReport : s.report)
    const steps = (shown ?? s.report)?.steps
    return steps?.[index]?.id === id ? steps[index] : steps?.find((r) => r.id === id)
  })
  const focused = useStore((s) => s.focusStep === step.id)
  const written = useStore((s) => s.open?.step === id || s.adding?.step === id)
  const row = useRef<HTMLLIElement>(null)
  const { near, height } = useNear(row, whole || written)
  const joint = useStore((s) => s.report?.joints.some((j) => j.step === step.id))
  const upto = useStore((s) => s.upto === step.id)
  const refused = useStore((s) => (s.said?.step === id && s.open?.step !== id ? s.said.text : ''))
  const adding = useStore((s) => (s.adding?.step === step.id ? s.adding : null))
  // sizes that stand in what a pick is called are those of the model as it is
  const said = (adding?.said.length ? adding.said : own?.segments)?.map((s) => (s.chip && report?.called[s.chip] ? { ...s, text: report.called[s.chip] } : s))
  const sentence = said?.flatMap((s) => (s.hidden ? [] : [s.text])).join('') ?? ''
  const [renaming, setRenaming] = useState(false)
  const lifted = useMove((s) => s.moving?.step === step.id)
  const aim = useMove((s) => (s.moving?.after === step.id ? 'after' : s.moving?.after === '' && index === 0 ? 'before' : ''))
  const kind = kinds.kinds.find((k) => k.kind === step.kind)!
  const fields = (adding && stepFields(step.id)) || (step.fields as Fields)
  const bad = report?.state === 'failed' || report?.state === 'asks'
  const beyond = report?.state === 'beyond'
  const first = () => {
    if (step.kind === 'sketch') openBoard(step.id)
    else openChip(step.id, shownChips(kind, fields)[0])
  }
  const keys = (e: React.KeyboardEvent) => {
    if (e.target !== e.currentTarget || e.ctrlKey || e.metaKey || e.altKey) return
    const act: Record<string, () => void> = {
      Enter: first,
      Delete: () => void send({ do: 'DeleteStep', step: step.id }),
      o: () => void send({ do: 'SwitchStep', step: step.id, off: !step.off }),
      l: () => void lookAt(upto ? null : step.id),
      c: () => setRenaming(true),
      h: () => turnChapter(step.id, !!step.chapter),
      i: () => useStore.setState({ palette: { after: step.id } }),
      e: () => void move(step.id, beside(step.id, -1)),
      t: () => void move(step.id, beside(step.id, 1)),
    }
    if (act[e.key]) {
      e.preventDefault()
      e.stopPropagation()
      act[e.key]()
    }
  }
  return (
    <li
      ref={row}
      data-step={step.id}
      tabIndex={0}
      style={near ? undefined : { height }}
      aria-label={`step ${index + 1}: ${sentence}${step.off ? ', off' : ''}${bad ? `, ${report!.message}` : ''}`}
      onFocus={(e) => e.target === e.currentTarget && useStore.setState({ focusStep: step.id })}
      onKeyDown={keys}
      className={`group relative flex gap-2 border-l-[3px] py-1 pr-2 pl-[13px] -outline-offset-2 ${focused ? 'border-accent bg-row' : 'border-transparent'} ${beyond ? 'opacity-45' : ''}`}
    >
      {near && (
        <>
          {aim === 'before' && <DropLine top />}
          {aim === 'after' && <DropLine />}
          <span
            className={`fig h-6 w-6 shrink-0 cursor-grab touch-none pt-[3px] select-none ${lifted ? 'text-accent' : 'text-ink2'}`}
            data-grip
            title="drag to stand earlier or later"
            onPointerDown={(e) => e.button === 0 && dragStep(step.id, e)}
          >
            {index + 1}
          </span>
          <div className={`min-w-0 flex-1 ${lifted ? 'opacity-55' : ''}`}>
            {joint && <JointMark />}
            {renaming ? (
              <input
                className="field mb-1"
                autoFocus
                defaultValue={step.name}
                placeholder="name of this step"
                maxLength={80}
                onBlur={() => setRenaming(false)}
                onKeyDown={(e) => {
                  e.stopPropagation()
                  if (e.key === 'Escape') setRenaming(false)
                  if (e.key === 'Enter') {
                    setRenaming(false)
                    void send({ do: 'RenameStep', step: step.id, name: e.currentTarget.value })
                  }
                }}
              />
            ) : (
              step.name && step.kind !== 'sketch' && <span className="text-[12.5px] text-ink2">{step.name}</span>
            )}
            <Sentence
              step={step.id} kind={kind} fields={fields} said={said ?? NOTHING} figures={report?.figures ?? NONE} tolerances={step.tolerances} off={step.off}
              lost={bad ? report!.field : undefined}
            />
            {step.off && <p className="text-[13px] text-ink2">off: the rest is made without it</p>}
            {bad && (
              <p className="text-[13px] text-wrong" role="status">
                ▲ {report!.message}
              </p>
            )}
            {report?.state === 'ok' && report.message && <p className="text-[13px] text-warn">◆ {report.message}</p>}
            {refused && (
              <p role="alert" className="text-[13px] text-wrong">
                {refused}
              </p>
            )}
          </div>
          <button
            tabIndex={-1}
            aria-label={`insert a step after step ${index + 1}`}
            title="insert a step here"
            className="absolute -bottom-[9px] left-[9px] z-10 flex h-[18px] w-[18px] items-center justify-center bg-card text-[13px] leading-none text-ink2 opacity-0 outline outline-hair hover:text-accent group-hover:opacity-100"
            onClick={() => useStore.setState({ palette: { after: step.id } })}
          >
            +
          </button>
          <Menu>
            <MenuButton
              aria-label={`what to do with step ${index + 1}`}
              className="h-6 w-6 shrink-0 text-ink2 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 hover:bg-card"
            >
              ⋮
            </MenuButton>
            <MenuItems anchor="bottom end" className="z-30 w-60 border border-ink bg-card py-1 text-[13.5px] outline-none">
              <Do word={upto ? 'Look at the whole model again' : 'Look at the model after this'} hint="l" act={() => void lookAt(upto ? null : step.id)} />
              <Do word="Insert a step after this" hint="i" act={() => useStore.setState({ palette: { after: step.id } })} />
              <Do word={step.name ? 'Call it something else' : 'Give it a name'} hint="c" act={() => setRenaming(true)} />
              <Do word={step.off ? 'Switch on' : 'Switch off'} hint="o" act={() => void send({ do: 'SwitchStep', step: step.id, off: !step.off })} />
              <Do word={step.chapter ? 'Take the chapter away' : 'Begin a chapter here'} hint="h" act={() => turnChapter(step.id, !!step.chapter)} />
              <MoveItems step={step.id} />
              <Do word="Delete" hint="del" act={() => void send({ do: 'DeleteStep', step: step.id })} />
            </MenuItems>
          </Menu>
        </>
      )}
    </li>
  )
})

const NOTHING: Segment[] = []
const NONE: Record<string, number> = {}

/** Where a dragged step would go, and why it cannot. */
function DropLine({ top }: { top?: boolean }) {
  const reason = useMove((s) => s.moving?.reason)
  return (
    <span className={`pointer-events-none absolute right-0 left-0 z-20 ${top ? '-top-px' : '-bottom-px'}`}>
      <span className={`block h-[2px] ${reason ? 'bg-wrong' : 'bg-accent'}`} />
      {reason && <span className="absolute left-10 border border-wrong bg-card px-2 py-0.5 text-[12.5px] text-wrong">{reason}</span>}
    </span>
  )
}

/** Earlier and later in the menu; what would break is asked when it opens. */
function MoveItems({ step }: { step: string }) {
  const [reasons, setReasons] = useState<Record<string, string>>({})
  useEffect(() => {
    let gone = false
    for (const [word, by] of [['earlier', -1], ['later', 1]] as const) {
      const after = beside(step, by)
      const asked = after === null ? Promise.resolve(by < 0 ? 'It is the first already.' : 'It is the last already.') : whyNot(step, after)
      void asked.then((reason) => !gone && setReasons((old) => ({ ...old, [word]: reason })))
    }
    return () => {
      gone = true
    }
  }, [step])
  return (
    <>
      {([['earlier', -1, 'e'], ['later', 1, 't']] as const).map(([word, by, hint]) => (
        <MenuItem key={word} disabled={!!reasons[word]}>
          <button className="flex w-full flex-col px-3 py-1 text-left data-disabled:text-ink2 data-focus:bg-row" onClick={() => void move(step, beside(step, by))}>
            <span className="flex justify-between">
              Stand {word}
              <span className="key">{hint}</span>
            </span>
            {reasons[word] && <span className="text-[12px] leading-tight">{reasons[word]}</span>}
          </button>
        </MenuItem>
      ))}
    </>
  )
}

function Do({ word, hint, act }: { word: string; hint: string; act: () => void }) {
  return (
    <MenuItem>
      <button className="flex w-full justify-between px-3 py-1 text-left data-focus:bg-row" onClick={act}>
        {word}
        <span className="key">{hint}</span>
      </button>
    </MenuItem>
  )
}

/** The sign of a joint: a small dovetail. */
function JointMark() {
  return (
    <svg width="15" height="11" viewBox="0 0 15 11" aria-hidden className="float-left mt-[7px] mr-1.5 text-accent">
      <path d="M0 0h15v4h-3l1.6 6.5h-12L3 4H0z" fill="currentColor" />
    </svg>
  )
}

function DraftItem({ number }: { number: number }) {
  const draft = useStore((s) => s.draft)!
  const said = useStore((s) => s.said)
  const open = useStore((s) => s.open)
  const shown = useStore(shownReport)
  const made = useStore((s) => s.preview?.report?.steps.find((r) => !s.project!.document.recipe!.some((p) => p.id === r.id)))
  const bad = made && (made.state === 'failed' || made.state === 'asks')
  // what was refused has no result, and the one before it is not its own
  const figures = said?.step === 'draft' ? NONE : (made?.figures ?? NONE)
  return (
    <li data-step="draft" className="relative flex gap-2 border-l-[3px] border-warn bg-card py-1.5 pr-3 pl-[13px]" aria-label="the step being written">
      <span className="fig w-6 shrink-0 pt-[3px] text-warn">{number}</span>
      <div className="min-w-0 flex-1">
        <Sentence step="draft" kind={draft.kind} fields={draft.fields} said={draft.said} figures={figures} lost={bad ? made.field : undefined} />
        {bad && !open && (
          <p className="text-[13px] text-wrong" role="status">
            ▲ {made.message}
          </p>
        )}
        {said?.step === 'draft' && !open && (
          <p role="alert" className="text-[13px] text-wrong">
            {said.text}
          </p>
        )}
        <div className="mt-1.5 flex gap-2" data-shown={shown ? 'yes' : 'no'}>
          <button data-keep className="strong" onClick={() => void keepDraft()}>
            {draft.kind.kind === 'sketch' ? 'keep and draw' : 'keep'}
          </button>
          <button className="plain" onClick={dropDraft}>
            drop
          </button>
        </div>
      </div>
    </li>
  )
}
