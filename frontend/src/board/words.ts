/** What things of the sketch are called, as the server says it. */
import type { SketchOut } from '../api/client'
import { useStore } from '../state/store'
import type { SketchDoc } from './geometry'

export type Words = (id: string) => string

/** What a tie is called. */
export const tieWord = (kind: string): string => useStore.getState().kinds?.ties[kind] ?? kind

/** Until the engine has named something that was just drawn, it is called by its kind. */
export function wordsFor(sketch: SketchDoc, out: SketchOut | undefined): Words {
  return (id) => out?.words[id] ?? (id === 'origin' ? 'the origin' : (sketch.curves.find((c) => c.id === id)?.kind ?? 'a point'))
}
