/** The tools of the board. A tool can be used by clicking on the board or by filling in its figures here. */
import { Stops } from '../widgets/Stops'
import type { Spot, Tool } from './drawing'
import { Exact, Places } from './Exact'
import type { Vec2 } from './geometry'

/** A line of the tray: what is drawn, its key, and the ways in which it can be drawn. */
export const TOOLS: { key: string; word: string; ways: [Tool, string][] }[] = [
  { key: '', word: 'select', ways: [['move', '']] },
  { key: 'l', word: 'line', ways: [['line', 'lines'], ['point', 'point']] },
  { key: 'a', word: 'arc', ways: [['arc', 'by ends'], ['about', 'by centre']] },
  { key: 'o', word: 'circle', ways: [['circle', 'by centre'], ['across', 'two'], ['over', 'three']] },
  { key: 'r', word: 'rectangle', ways: [['centre', 'by centre'], ['corner', 'by corners'], ['leaning', 'leaning']] },
  { key: '', word: 'slot', ways: [['slot', 'straight'], ['bend', 'round']] },
  { key: '', word: 'polygon', ways: [['polygon', '']] },
  { key: 'e', word: 'ellipse', ways: [['ellipse', '']] },
  { key: 's', word: 'spline', ways: [['spline', '']] },
  { key: 'w', word: 'text', ways: [['text', '']] },
  { key: 't', word: 'trim', ways: [['trim', 'trim'], ['split', 'split'], ['extend', 'run on']] },
  { key: 'b', word: 'bring in', ways: [['bring', '']] },
]
export const groupOf = (tool: Tool) => TOOLS.find((g) => g.ways.some(([t]) => t === tool))!

const HOW: Record<Tool, string> = {
  move: '', point: 'Click where it lies; on a curve it stays there.', centre: 'Click the middle, then a corner.', corner: 'Click two corners.', circle: 'Click the centre, then the rim.', leaning: 'Click two corners, then how deep.',
  line: 'Click from end to end; type a figure for a length. Alt: as it is pointed.', arc: 'Click both ends, then a place on it.', about: 'Click the centre, the start, and towards its end.',
  across: 'Click two opposite places of the rim.', over: 'Click three places of the rim.', slot: 'Click both centres, then its side.', bend: 'Click both centres, a place between, then its side.',
  polygon: 'Click the middle, then a corner.', ellipse: 'Click the middle, the end of one axis, then how wide.', spline: 'Click from node to node; Enter or a second click ends it, the first node closes it.',
  text: 'Write it, then click where it begins.', trim: 'Click the stretch to take away.', split: 'Click where to split a curve.', extend: 'Click a line or arc near the end that runs on.',
  bring: 'Click an edge or a face of a part; it comes onto the board and follows the part.',
}

export type What = 'edge' | 'section' | 'outline'
export interface Settings { sides: number; construction: boolean; words: string; height: string; what: What }

interface Props {
  tool: Tool
  setTool: (tool: Tool) => void
  step: string
  drawn: () => void
  settings: Settings
  set: (settings: Partial<Settings>) => void
  at: Record<string, Vec2>
  make: (spots: Spot[]) => Promise<unknown>
}

export function ToolTray({ tool, setTool, step, drawn, settings, set, at, make }: Props) {
  const group = groupOf(tool)
  const figures = ['centre', 'corner', 'circle'].includes(tool)
  const built = ['line', 'arc', 'about', 'across', 'over', 'ellipse', 'spline'].includes(tool)
  return (
    <div role="toolbar" aria-label="board tools" className="shrink-0 border border-ink bg-card">
      <div className="grid grid-cols-2">
        {TOOLS.map((g) => (
          <button
            key={g.word}
            aria-pressed={g === group}
            className={`flex justify-between gap-1 border-hair px-2.5 py-[3px] text-left odd:border-r ${g === group ? 'bg-ink font-semibold text-card' : 'hover:bg-row'}`}
            onClick={() => setTool(g.ways[0][0])}
          >
            {g.word}
            {g.key && <span className={`key ${g === group ? 'bg-transparent! text-card!' : ''}`}>{g.key}</span>}
          </button>
        ))}
      </div>
      {tool !== 'move' && (
        <div className="border-t border-hair bg-sheet px-2.5 py-2 text-[12.5px] text-ink2">
          {group.ways.length > 1 && (
            <div className="mb-1.5 text-ink">
              <Stops name={`ways of ${group.word}`} value={tool} options={group.ways} set={setTool} small />
            </div>
          )}
          {!figures && <p>{HOW[tool]}</p>}
          {tool === 'text' && (
            <>
              <label className="mt-1 block">
                words
                <input className="field py-0! text-ink" autoFocus maxLength={80} value={settings.words} onChange={(e) => set({ words: e.target.value })} />
              </label>
              <label className="mt-1 block">
                height of capitals
                <input className="field fig py-0! text-ink" spellCheck={false} value={settings.height} onChange={(e) => set({ height: e.target.value })} />
              </label>
            </>
          )}
          {tool === 'polygon' && (
            <label className="mt-1 flex items-center gap-2">
              sides
              <input type="number" min={3} max={60} className="field fig w-16! py-0! text-ink" value={settings.sides} onChange={(e) => set({ sides: Math.max(3, Math.min(60, Number(e.target.value) || 6)) })} />
            </label>
          )}
          {tool === 'bring' && (
            <div className="mt-1.5 text-ink">
              <Stops name="what to bring in" value={settings.what} options={[['edge', 'edges'], ['section', 'cut'], ['outline', 'outline']]} set={(what: What) => set({ what })} small />
            </div>
          )}
          {figures && <Exact key={tool} how={HOW[tool]} {...{ tool, step, drawn }} />}
          {!figures && !['trim', 'split', 'extend', 'bring'].includes(tool) && <Places key={tool} {...{ tool, at, make }} />}
          {built && (
            <label className="mt-1 flex items-center gap-1.5">
              <input type="checkbox" className="box" checked={settings.construction} onChange={(e) => set({ construction: e.target.checked })} />
              construction <span className="key ml-auto">c</span>
            </label>
          )}
        </div>
      )}
    </div>
  )
}
