/** On the Print desk the stage is the bed: parts stand where and as they are printed, and can be looked through layer by layer. */
import { useEffect } from 'react'
import { Matrix4, Vector3 } from 'three'
import type { LayerOut, PrintPart } from '../api/client'
import { useProfile } from '../desks/OnPrinter'
import { platesOf, showLayer, useOnPlate, useWorkshop } from '../state/workshop'
import { areas, hatch, loops } from './layers'
import type { Viewer } from './viewer'

/** Where a part stands on the bed: turned as it lies, its lowest point on the bed (or over it, where it is printed in one with another), its middle at its place. */
function placeOf(viewer: Viewer, part: PrintPart): Matrix4 | null {
  const positions = viewer.positions(part.id)
  const at = standsAt(viewer, part)
  if (!positions || !at) return null
  const turn = new Matrix4().set(...part.lie.x, 0, ...part.lie.y, 0, ...part.lie.z, 0, 0, 0, 0, 1)
  const low = new Vector3(Infinity, Infinity, Infinity)
  const high = low.clone().negate()
  const p = new Vector3()
  for (let k = 0; k < positions.length; k += 3) {
    p.fromArray(positions, k).applyMatrix4(turn)
    low.min(p)
    high.max(p)
  }
  return new Matrix4().makeTranslation(at[0] - (low.x + high.x) / 2, at[1] - (low.y + high.y) / 2, part.up_mm - low.z).multiply(turn)
}

/** The middle of a part's place: the plates stand beside each other. */
const standsAt = (viewer: Viewer, part: PrintPart): [number, number] | null => part.place_mm && [part.place_mm[0] + viewer.bedAt(part.plate ?? 0), part.place_mm[1]]

/** Lines of solid areas are drawn so many times apart as they are printed: nearer, they run together on the screen. */
const THINNED = 3

/** The nozzle's paths of one layer: walls and infill as they are, solid areas thinned, the other way on every other layer. */
function pathsOf(layer: LayerOut, part: string, place: [number, number], lineWidth: number, infill: number) {
  const angle = layer.layer % 2 ? 45 : -45
  return {
    part,
    place,
    section: areas(layer.outline),
    walls: loops(layer.walls.flat()),
    single: areas(layer.single),
    solid: hatch(layer.solid, angle, THINNED * lineWidth),
    infill: infill > 0 ? hatch(layer.infill, angle, lineWidth / infill) : new Float32Array(),
  }
}

export function Plate({ viewer, loaded }: { viewer: Viewer; loaded: string }) {
  const prints = useWorkshop((s) => s.prints)
  const layer = useWorkshop((s) => s.layer)
  const layers = useWorkshop((s) => s.layers)
  const profile = useProfile()
  const parts = useOnPlate()
  const settings = profile.settings!
  const beds = platesOf(prints?.parts ?? [])
  useEffect(() => {
    const places = new Map<string, Matrix4>()
    for (const part of prints?.parts ?? []) {
      const place = placeOf(viewer, part)
      if (place) places.set(part.id, place)
    }
    viewer.setPlaces(places, beds)
  }, [viewer, prints, loaded, beds])
  // come and go with the whole plate in view
  useEffect(() => {
    if (prints) viewer.fitBed()
  }, [viewer, !prints, beds]) // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => () => {
    viewer.setLayer(null)
    viewer.setPlaces(null)
    viewer.eye.fit()
  }, [viewer])
  useEffect(() => {
    if (layer === null) return viewer.setLayer(null)
    const drawn = parts.flatMap((p) => {
      const at = standsAt(viewer, p)
      return layers[p.id] && at ? [pathsOf(layers[p.id], p.id, at, profile.line_width_mm, settings.infill!)] : []
    })
    viewer.setLayer(settings.first_layer_mm! + (layer - 1) * settings.layer_mm!, drawn)
  }, [viewer, layer, layers, parts, profile, settings])
  const most = Math.max(0, ...parts.map((p) => (p.estimate ? p.up_layers + p.estimate.layers : 0)))
  if (!most) return null
  const top = layer === null ? 0 : settings.first_layer_mm! + (layer - 1) * settings.layer_mm!
  return (
    <div role="group" aria-label="layers" className="absolute top-16 right-3 bottom-12 z-10 flex w-[92px] flex-col items-center gap-1.5 border border-hair bg-card/95 px-1 py-2 text-[12.5px]">
      <button className={layer === null ? 'font-semibold' : 'text-ink2 underline underline-offset-2'} aria-pressed={layer === null} onClick={() => void showLayer(null)}>
        whole parts
      </button>
      <input
        type="range"
        aria-label="layer to look at"
        aria-valuetext={layer === null ? 'whole parts' : `layer ${layer} of ${most}`}
        className="slide tall min-h-0 flex-1 [direction:rtl] [writing-mode:vertical-lr]"
        min={1}
        max={most}
        value={layer ?? most}
        onChange={(e) => void showLayer(Number(e.target.value))}
      />
      <span className="fig text-center" data-layer={layer ?? ''}>
        {layer === null ? (
          <span className="text-ink2">
            {most}
            <br />
            layers
          </span>
        ) : (
          <>
            {layer} of {most}
            <br />
            {top.toFixed(2)} mm
          </>
        )}
      </span>
    </div>
  )
}
