/** On what and how is printed, as a sentence with chips. */
import { useState } from 'react'
import type { Profile } from '../api/client'
import { useStore } from '../state/store'
import { setProfile, useWorkshop } from '../state/workshop'
import { ChoiceChip, FigureChip } from '../widgets/Chips'

/** The profile that the project rests on. */
export function useProfile(): Profile {
  const fallback = useStore((s) => s.kinds!.profile as unknown as Profile)
  return useStore((s) => s.project!.document.profiles?.find((p) => p.id === s.project!.document.profile)) ?? fallback
}

/** Said while nothing is measured; afterwards the measurements say it. */
const SET_UP: [string, string][] = [['', 'not known whether set up'], ['yes', 'set up for it'], ['no', 'not set up for it']]

/** The printer chosen anew, with something changed. */
const choosing = (profile: Profile) => (change: object) =>
  void setProfile({ printer: profile.printer, nozzle_mm: profile.nozzle_mm, material: profile.material, tuned: profile.tuned, ...change })

/** Asks whether the printer is set up, where that was neither said nor measured. */
export function SetUpAsked() {
  const profile = useProfile()
  if ((profile.version ?? 1) > 1 || profile.tuned != null) return null
  const choose = choosing(profile)
  return (
    <span className="mt-1 flex gap-2">
      <button className="plain" onClick={() => choose({ tuned: true })}>It is set up</button>
      <button className="plain" onClick={() => choose({ tuned: false })}>It is not</button>
    </span>
  )
}

export function OnPrinter() {
  const profile = useProfile()
  const catalogue = useWorkshop((s) => s.catalogue)
  const [more, setMore] = useState(false)
  const settings = profile.settings!
  const printers = (catalogue?.printers ?? []) as { id: string; name: string }[]
  const choose = choosing(profile)
  const figure = (key: keyof typeof settings, label: string, unit = 'mm', step = 0.1, k = 1) => (
    <FigureChip label={label} value={Number(settings[key]) * k} unit={unit} step={step} take={(v) => void setProfile({ settings: { [key]: v / k } })} />
  )
  return (
    <section aria-label="printer" className="border-b border-hair px-4 py-3">
      <p className="leading-[1.8]">
        Printed on a{' '}
        <ChoiceChip label="printer" value={profile.printer ?? ''} options={printers.map((p) => [p.id, p.name])} take={(printer) => choose({ printer })} /> with a{' '}
        <ChoiceChip label="nozzle" value={String(profile.nozzle_mm)} options={(catalogue?.nozzles ?? []).map((n) => [String(n.mm), `${n.mm} mm`])} take={(v) => choose({ nozzle_mm: Number(v) })} />{' '}
        nozzle in{' '}
        <ChoiceChip label="material" value={profile.material ?? ''} options={((catalogue?.materials ?? []) as { id: string }[]).map((m) => [m.id, m.id])} take={(material) => choose({ material })} />
        {(profile.version ?? 1) === 1 && (
          <>
            , <ChoiceChip label="whether it is set up" value={profile.tuned == null ? '' : profile.tuned ? 'yes' : 'no'} options={SET_UP} take={(v) => choose({ tuned: v === '' ? null : v === 'yes' })} />
          </>
        )}
        ; layers of {figure('layer_mm', 'layer height', 'mm', 0.02)}, {figure('walls', 'walls', '', 1)} walls, {figure('top_layers', 'layers at the top', '', 1)} layers on top and{' '}
        {figure('bottom_layers', 'layers at the bottom', '', 1)} at the bottom, filled to {figure('infill', 'infill', '%', 5, 100)}.
      </p>
      <button className="text-[13px] text-ink2 hover:text-accent" aria-expanded={more} onClick={() => setMore(!more)}>
        pace and price {more ? '▾' : '▸'}
      </button>
      {more && (
        <p className="leading-[1.8]">
          First layer {figure('first_layer_mm', 'first layer', 'mm', 0.02)} high at {figure('first_layer_mm_s', 'pace of the first layer', 'mm/s', 5)}; walls at{' '}
          {figure('wall_mm_s', 'pace of walls', 'mm/s', 5)}, solid at {figure('solid_mm_s', 'pace of solid layers', 'mm/s', 5)}, infill at {figure('infill_mm_s', 'pace of infill', 'mm/s', 5)}, moves
          at {figure('travel_mm_s', 'pace of moves', 'mm/s', 5)}, gaining {figure('acceleration_mm_s2', 'acceleration', 'mm/s²', 100)}; at most{' '}
          {figure('most_flow_mm3_s', 'most flow', 'mm³/s', 1)}. {figure('price_per_kg', 'price', '', 1)} a kilogram, {figure('density_g_cm3', 'density', 'g/cm³', 0.01)}. The simulated printer is number{' '}
          <FigureChip label="number of the simulated printer" value={profile.machine ?? 1} step={1} take={(machine) => void setProfile({ machine })} />.
        </p>
      )}
    </section>
  )
}
