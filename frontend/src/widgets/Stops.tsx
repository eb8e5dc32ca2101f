/** A few choices as stops on a line: one is taken. */
interface Props<T extends string> {
  name: string
  value: T
  options: readonly (readonly [T, string])[]
  set: (value: T) => void
  small?: boolean
}

export function Stops<T extends string>({ name, value, options, set, small }: Props<T>) {
  return (
    <div
      role="radiogroup"
      aria-label={name}
      className="flex"
      onKeyDown={(e) => {
        const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key]
        if (!by) return
        const to = options.findIndex(([v]) => v === value) + by
        if (to < 0 || to >= options.length) return
        e.preventDefault()
        e.stopPropagation()
        set(options[to][0])
        ;(e.currentTarget.children[to] as HTMLElement).focus()
      }}
    >
      {options.map(([v, word]) => (
        <button
          key={v}
          role="radio"
          aria-checked={value === v}
          tabIndex={value === v || !options.some(([o]) => o === value) ? 0 : -1}
          onClick={() => set(v)}
          className={`-ml-px border border-ink first:ml-0 ${small ? 'px-1.5 text-[12.5px]' : 'px-2.5'} ${value === v ? 'bg-ink font-semibold text-card' : 'bg-card hover:bg-row'}`}
        >
          {word}
        </button>
      ))}
    </div>
  )
}
