/** A sentence that is being written outlives a reload: it is kept in this window until it is kept or dropped. */
import type { Fields } from '../api/client'
import { useStore } from './store'
import { resumeDraft } from './writing'

const place = (project: string) => `dove-draft-${project}`

/** Takes up what was being written, and keeps what is written from now on, until the function that it gives is called. */
export function keepDrafts(): () => void {
  const { id, project, kinds } = useStore.getState()
  try {
    const kept = JSON.parse(sessionStorage.getItem(place(id)) ?? 'null') as { kind: string; fields: Fields; after: string | null; newPart: string } | null
    const kind = kinds?.kinds.find((k) => k.kind === kept?.kind)
    const there = !kept?.after || project!.document.recipe!.some((s) => s.id === kept.after)
    if (kept && kind && there) resumeDraft({ ...kept, kind })
  } catch {
    sessionStorage.removeItem(place(id))
  }
  return useStore.subscribe((s, old) => {
    if (s.draft === old.draft || s.id !== id) return
    if (!s.draft) return sessionStorage.removeItem(place(id))
    const { kind, fields, after, newPart } = s.draft
    sessionStorage.setItem(place(id), JSON.stringify({ kind: kind.kind, fields, after, newPart }))
  })
}
