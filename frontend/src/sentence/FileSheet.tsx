/** Answers a chip that takes a file: one to bring in, or a newer one in the place of that which is there. */
import { useEffect, useRef, useState } from 'react'
import { type BroughtFile, Refusal, api } from '../api/client'
import { closeChip } from '../state/chips'
import { send } from '../state/commands'
import { valueAt } from '../state/fields'
import { useStore } from '../state/store'
import { answer } from '../state/writing'
import type { Fields } from '../api/client'
import { focusSoon, inStep } from '../widgets/focus'

type Kept = { hash: string; name: string }

export function FileSheet({ step, path, fields, image = false }: { step: string; path: string; fields: Fields; image?: boolean }) {
  const input = useRef<HTMLInputElement>(null)
  const button = useRef<HTMLButtonElement>(null)
  const [state, setState] = useState<'ready' | 'reading'>('ready')
  const [message, setMessage] = useState('')
  const [found, setFound] = useState<BroughtFile | null>(null)
  const old = valueAt(fields, path) as Kept | null | undefined
  // a file takes its time to be read, and a person may have gone on to another chip
  const left = useRef(false)
  useEffect(() => {
    button.current?.focus()
    left.current = false
    return () => void (left.current = true)
  }, [])

  const take = async (file: Kept, which: number, part: string) => {
    if (image) {
      await answer(step, path, file, left.current)
      if (step === 'draft' && !left.current) focusSoon(...inStep('draft'))
      return
    }
    if (step !== 'draft') {
      // what was picked on the older file is looked for on the newer one
      const former = [...((fields.former as Kept[] | undefined) ?? []), ...(old ? [old] : [])]
      if (await send({ do: 'EditStep', step, fields: { file, former, which } }, { step, field: path })) closeChip()
      return
    }
    useStore.setState((s) => ({ draft: s.draft && { ...s.draft, newPart: part || s.draft.newPart, fields: { ...s.draft.fields, which } } }))
    await answer(step, path, file, left.current)
    if (!left.current) focusSoon(...inStep('draft'))
  }

  const read = async (file: File) => {
    setMessage('')
    setFound(null)
    if (file.size > 8 * 1024 * 1024) return setMessage('That file is larger than 8 MB.')
    setState('reading')
    try {
      const got = await api.addFile(useStore.getState().id, file, String(fields.unit ?? 'mm'), image)
      const stem = file.name.replace(/\.[^.]*$/, '')
      const kept = { hash: got.hash, name: got.name }
      if (image || got.solids.length === 1) await take(kept, 1, got.solids[0]?.name || stem)
      else setFound(got)
    } catch (error) {
      setMessage(error instanceof Refusal ? error.message : String(error))
    }
    setState('ready')
  }

  return (
    <div
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault()
        const file = e.dataTransfer.files[0]
        if (file) void read(file)
      }}
    >
      <p className="text-[13px] text-ink2">{image ? 'PNG, JPEG or SVG; it lies in the middle of the face.' : old ? 'A newer file takes its place; what is built on it follows where that is clear.' : 'STEP keeps its faces exactly; STL and 3MF become flat faces.'}</p>
      <button ref={button} className="strong mt-1" disabled={state === 'reading'} onClick={() => input.current?.click()}>
        {state === 'reading' ? 'reading …' : image ? 'choose a picture' : old ? 'choose a newer file' : 'choose a file'}
      </button>
      <input
        ref={input}
        type="file"
        accept={image ? '.png,.jpg,.jpeg,.svg' : '.step,.stp,.stl,.3mf'}
        aria-label={image ? 'picture to lay on a face' : 'file to bring in'}
        className="hidden"
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file) void read(file)
        }}
      />
      {found && (
        <ul aria-label="solids of the file" className="mt-2 max-h-48 overflow-auto border-t border-hair pt-1">
          {found.solids.map((solid, i) => (
            <li key={i}>
              <button className="flex w-full justify-between gap-3 px-1 text-left hover:bg-row" onClick={() => void take({ hash: found.hash, name: found.name }, i + 1, solid.name)}>
                <span className="truncate">{solid.name || `solid ${i + 1}`}</span>
                <span className="fig shrink-0 text-[12px] text-ink2">{solid.size_mm.map((v) => Math.round(v * 100) / 100).join(' × ')} mm</span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {message && (
        <p role="alert" className="mt-1 text-[13px] text-wrong">
          {message}
        </p>
      )}
    </div>
  )
}
