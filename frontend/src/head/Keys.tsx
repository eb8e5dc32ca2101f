/** The list of keys. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'

const KEYS: [string, [string, string][]][] = [
  ['Everywhere', [
    ['n', 'next step'], ['/', 'find or do'], ['1 … 5', 'go to a desk'], ['Ctrl Z', 'take back'], ['Ctrl Shift Z', 'do again'],
    ['r', 'to the recipe'], ['v', 'new value'], ['g', 'to the gauges'], ['m', 'to the model'], ['x', 'cut open, and close'], ['d', 'pull apart, and together'], ['Esc', 'leave what is open'], ['?', 'this list'],
  ]],
  ['On a sentence', [
    ['↑ ↓', 'from sentence to sentence'], ['Enter', 'open its first chip'], ['Tab', 'from chip to chip'], ['i', 'insert a step after it'],
    ['c', 'call it something'], ['h', 'begin a chapter at it'], ['o', 'off and on'], ['e', 'stand one earlier'], ['t', 'stand one later'], ['l', 'look at the model after it'], ['Del', 'delete'],
  ]],
  ['In a figure', [['↑ ↓', 'a tenth more or less'], ['Shift ↑ ↓', 'one more or less'], ['Enter', 'take it']]],
  ['On the model', [
    ['← → ↑ ↓', 'turn'], ['Shift ← →', 'move'], ['+ −', 'nearer, farther'], ['a', 'show all'], ['f', 'show what is selected'], ['b', 'back to the last view'],
    ['p', 'point by name'], ['s', 'square to the selected face'], ['w', 'views kept by name'], ['Ctrl and drag', 'a box takes faces or edges, also behind; Alt: what it touches'],
  ]],
  ['On the board', [
    ['l', 'line'], ['a', 'arc'], ['r', 'rectangle'], ['o', 'circle'], ['e', 'ellipse'], ['s', 'spline'], ['w', 'text'], ['t', 'trim, split, run on'], ['b', 'bring in from a part'], ['again', 'the other way of it'], ['Enter', 'write its figures; end a spline; to what can be done with a selection'],
    ['c', 'construction, or real again'], ['Alt', 'held: draw as pointed; a box takes what it touches'], ['d', 'give the selected thing a size'], ['. ,', 'select the next thing, the one before'], ['Space', 'and the next one too'], ['m', 'lens'], ['Del', 'take away'], ['← → ↑ ↓', 'move the sheet (mouse: right button)'], ['+ −', 'nearer, farther'], ['f', 'show all of it'], ['Esc', 'drop the tool, then what is selected; then Enter leaves'],
  ]],
]

export function Keys({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Dialog open={open} onClose={close} className="fixed inset-0 z-40 flex items-center justify-center bg-[var(--shade)]">
      <DialogPanel className="max-h-[86vh] w-[1040px] overflow-auto border border-ink bg-card p-6">
        <div className="mb-3 flex items-baseline justify-between">
          <DialogTitle className="text-[17px] font-bold">Keys</DialogTitle>
          <button className="plain" onClick={close}>
            close
          </button>
        </div>
        <div className="grid grid-cols-3 gap-x-9 gap-y-4">
          {KEYS.map(([title, rows]) => (
            <section key={title}>
              <h3 className="border-b border-hair font-semibold">{title}</h3>
              <dl>
                {rows.map(([key, what]) => (
                  <div key={key} className="flex justify-between py-0.5">
                    <dt>{what}</dt>
                    <dd className="key">{key}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </div>
      </DialogPanel>
    </Dialog>
  )
}
