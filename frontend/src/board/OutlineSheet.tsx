/** Outlines from DXF and SVG files onto the board, looked at first; and the sketch as such a file. */
import { Dialog, DialogPanel, DialogTitle, Switch } from '@headlessui/react'
import { useEffect, useRef, useState } from 'react'
import { type OutlineOut, Refusal, api } from '../api/client'
import { send } from '../state/commands'
import { keepFile } from '../state/workshop'
import { Stops } from '../widgets/Stops'
import { plain } from '../widgets/figures'
import { type SketchCurve, type Vec2, runsOf } from './geometry'

const UNITS = [['file', 'as it says'], ['mm', 'mm'], ['cm', 'cm'], ['inch', 'inch'], ['point', 'point'], ['pixel', 'pixel']] as const
type Unit = (typeof UNITS)[number][0]

export function OutlineSheet({ project, step, close }: { project: string; step: string; close: () => void }) {
  const [file, setFile] = useState<{ name: string; text: string } | null>(null)
  const [unit, setUnit] = useState<Unit>('file')
  const [scale, setScale] = useState('1')
  const [kept, setKept] = useState(true)
  const [found, setFound] = useState<OutlineOut | null>(null)
  const [said, setSaid] = useState('')
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => {
    if (!file) return
    const times = Number(scale)
    if (!(times > 0)) {
      setSaid('The scale is a figure above zero.')
      return
    }
    let current = true
    void api
      .readOutline(project, { name: file.name, text: file.text, unit, scale: times })
      .then((outline) => current && (setFound(outline), setSaid('')))
      .catch((error) => current && (setFound(null), setSaid(error instanceof Refusal ? error.message : 'The file cannot be read.')))
    return () => {
      current = false
    }
  }, [project, file, unit, scale])
  const put = async () => {
    if (await send({ do: 'PlaceOutline', step, curves: found!.curves, kept }, { step: 'outline' })) close()
  }
  return (
    <Dialog open onClose={close} className="fixed inset-0 z-40 flex items-center justify-center bg-(--shade)">
      <DialogPanel className="w-[560px] border border-ink bg-card p-5" onKeyDown={(e) => e.stopPropagation()}>
        <DialogTitle className="text-lg font-semibold">An outline from a file</DialogTitle>
        <p className="text-ink2">A drawing as DXF or SVG. It is cleaned first, and you see it before it is put on the board.</p>
        <input
          ref={input}
          type="file"
          accept=".dxf,.svg"
          aria-label="outline file"
          className="sr-only"
          tabIndex={-1}
          onChange={async (e) => {
            const chosen = e.target.files?.[0]
            if (chosen) setFile({ name: chosen.name, text: await chosen.text() })
          }}
        />
        <div className="my-3 flex items-center gap-3">
          <button className={file ? 'plain' : 'strong'} onClick={() => input.current?.click()}>
            choose a file
          </button>
          <span className="truncate">{file?.name}</span>
        </div>
        {file && (
          <>
            <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
              <span>one unit is</span>
              <Stops name="unit of the file" value={unit} options={UNITS} set={setUnit} small />
              <label className="flex items-center gap-2">
                times <input className="field fig w-16! py-0!" value={scale} onChange={(e) => setScale(e.target.value)} />
              </label>
            </div>
            {said && (
              <p role="alert" className="mt-3 text-wrong">
                {said}
              </p>
            )}
            {found && (
              <div className="mt-3 flex gap-4">
                <Look outline={found} />
                <div className="text-[13.5px]">
                  <p className="fig font-semibold">
                    {plain(found.width_mm, 2)} × {plain(found.height_mm, 2)} mm
                  </p>
                  <p>
                    {found.curves.length} curves, {found.closed} closed {found.closed === 1 ? 'run' : 'runs'}
                  </p>
                  {found.open > 0 && <p className="text-warn">◆ {found.open} open ends</p>}
                  {found.mended.map((m) => (
                    <p key={m} className="text-ink2">
                      {m}
                    </p>
                  ))}
                  {found.left_out.length > 0 && <p className="text-warn">left out: {found.left_out.join(', ')}</p>}
                  <label className="mt-2 flex items-center gap-2">
                    <Switch checked={kept} onChange={setKept} className="h-4 w-8 border border-ink bg-card data-[checked]:bg-accent">
                      <span className={`block h-full w-3 bg-ink ${kept ? 'ml-auto' : ''}`} />
                    </Switch>
                    {kept ? 'stays as it is' : 'can be dragged and tied'}
                  </label>
                </div>
              </div>
            )}
          </>
        )}
        <div className="mt-4 flex justify-end gap-2">
          <button className="plain" onClick={close}>
            leave it
          </button>
          <button className="strong" disabled={!found || !!said} onClick={() => void put()}>
            put it on the board
          </button>
        </div>
      </DialogPanel>
    </Dialog>
  )
}

/** The outline, small. */
function Look({ outline }: { outline: OutlineOut }) {
  const size = Math.max(outline.width_mm, outline.height_mm) * 1.1
  const d = outline.curves
    .flatMap((c) => {
      const places = c.places as Vec2[]
      const at = Object.fromEntries(places.map((p, k) => [String(k), p]))
      const curve: SketchCurve = { id: '', kind: c.kind as SketchCurve['kind'], points: places.map((_, k) => String(k)), radius: c.radius as number, construction: false }
      return runsOf(curve, at, curve.radius)
    })
    .map((run) => `M${run.map(([x, y]) => `${x} ${-y}`).join('L')}`)
    .join('')
  return (
    <svg width="220" height="180" viewBox={`${-size / 2} ${-size / 2} ${size} ${size}`} className="shrink-0 border border-hair bg-paper" role="img" aria-label="the outline">
      <path d={d} fill="none" stroke="var(--ink)" strokeWidth="1.4" vectorEffect="non-scaling-stroke" />
    </svg>
  )
}

/** Saves the sketch's outline. */
export async function saveOutline(project: string, step: string, format: 'dxf' | 'svg', unit: 'mm' | 'inch'): Promise<string> {
  try {
    keepFile(await api.outlineFile(project, { step, format, unit }))
    return ''
  } catch (error) {
    return error instanceof Refusal ? error.message : 'The file could not be made.'
  }
}
