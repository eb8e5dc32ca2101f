/** The gap of a joint as colours on both its halves: the switch, and the scale with what is wanted. */
import { useEffect, useState } from 'react'
import { Refusal, api, type Joint } from '../api/client'
import { type Band, ends, tintOf } from '../stage/gapmap'
import { useStore } from '../state/store'

export function GapScale({ joint }: { joint: Joint }) {
  const id = useStore((s) => s.id)
  const version = useStore((s) => s.project!.version)
  const map = useStore((s) => s.gapMap)
  const [state, setState] = useState<'ready' | 'looking'>('ready')
  const [message, setMessage] = useState('')
  const shown = map?.joint === joint.step ? map : null
  // a map is of the model as it was then, and of the card that one looks at
  useEffect(() => {
    setMessage('')
    return () => useStore.setState({ gapMap: null })
  }, [version, joint.step])
  if (!joint.measured_mm || !joint.wanted_mm) return null
  const off = (joint.drawn_mm ?? joint.measured_mm.least) - joint.wanted_mm.target
  const band: Band = { least: joint.wanted_mm.least + off, target: joint.wanted_mm.target + off, most: joint.wanted_mm.most + off }
  const show = async () => {
    if (shown) return useStore.setState({ gapMap: null })
    setState('looking')
    setMessage('')
    try {
      const found = await api.gapMap(id, joint.step)
      if (useStore.getState().project!.version === version) useStore.setState({ gapMap: { ...found, band } })
    } catch (error) {
      setMessage(error instanceof Refusal ? error.message : String(error))
    }
    setState('ready')
  }
  return (
    <div className="mt-2" data-gapmap>
      <button className="plain" aria-pressed={!!shown} disabled={state === 'looking'} onClick={() => void show()}>
        {state === 'looking' ? 'Reading the gap …' : shown ? 'Without the colours' : 'Show the gap on both halves'}
      </button>
      {message && <p className="mt-1 text-[13.5px] text-wrong">{message}</p>}
      {shown && <Scale band={band} least={shown.least} most={shown.most} />}
    </div>
  )
}

function Scale({ band, least, most, width = 290 }: { band: Band; least: number | null; most: number | null; width?: number }) {
  const [low, high] = ends(band)
  const x = (g: number) => 4 + ((Math.max(low, Math.min(high, g)) - low) / (high - low)) * (width - 8)
  const bars = 72
  const ticks: [number, string][] = [[band.least, band.least.toFixed(2)], [band.target, band.target.toFixed(2)], [band.most, band.most.toFixed(2)]]
  return (
    <figure className="mt-1">
      <svg viewBox={`0 0 ${width} 44`} className="w-full" role="img" aria-label={`drawn gap from ${low.toFixed(2)} to ${high.toFixed(2)} mm a side; wanted ${band.least.toFixed(2)} to ${band.most.toFixed(2)} as drawn`}>
        {Array.from({ length: bars }, (_, k) => {
          const from = low + ((high - low) * k) / bars
          return <rect key={k} x={x(from)} y={10} width={(width - 8) / bars + 0.6} height={12} fill={tintOf(from + (high - low) / bars / 2, band)} />
        })}
        <rect x={4} y={10} width={width - 8} height={12} fill="none" stroke="var(--ink)" />
        {ticks.map(([g, word]) => (
          <g key={word}>
            <path d={`M${x(g)} 22v5`} stroke="var(--ink)" />
            <text x={x(g)} y={38} textAnchor="middle" fontSize="10.5" className="fig" fill="var(--ink)">{word}</text>
          </g>
        ))}
        {[least, most].map((g, k) => g !== null && <path key={k} d={`M${x(g)} 9l-4 -7h8z`} fill="var(--ink)" />)}
      </svg>
      <figcaption className="text-[12.5px] text-ink2">
        {least === null ? 'The halves face each other nowhere.' : `Drawn gap, mm a side, square to the faces: here ${least.toFixed(2)} to ${most!.toFixed(2)}. The green is what is wanted, with what the printer takes. Point at a place to read it.`}
      </figcaption>
    </figure>
  )
}
