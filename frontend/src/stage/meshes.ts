/** Meshes of parts, and what may be pointed at on them, kept by their hashes. */
import { type Report, api } from '../api/client'
import { type Blob3d, type Things, readBlob } from './blob'

/** So many are kept, if nobody shows them. */
const MOST = 200

export const blobs = new Map<string, Blob3d>()
export const told = new Map<string, Things>()
const underWay = new Map<string, Promise<void>>()

/** Fetches what is not here yet, once, and keeps it. */
function fetched<T>(kept: Map<string, T>, hash: string, get: (hash: string) => Promise<T>): Promise<void> | undefined {
  if (!hash || kept.has(hash)) return
  const before = underWay.get(hash)
  if (before) return before
  const asked = get(hash).then((made) => void kept.set(hash, made)).finally(() => underWay.delete(hash))
  underWay.set(hash, asked)
  return asked
}

/** Has all that shows these parts here; rejects where some of it cannot be had. */
export async function fetchMeshes(parts: Report['parts']): Promise<void> {
  await Promise.all(parts.flatMap((p) => [
    fetched(blobs, p.mesh, async (hash) => readBlob(await api.mesh(hash))),
    fetched(told, p.things, api.things),
  ]))
  for (const [kept, key] of [[blobs, 'mesh'], [told, 'things']] as const)
    if (kept.size > MOST) for (const hash of [...kept.keys()].slice(0, MOST / 2)) if (!parts.some((p) => p[key] === hash)) kept.delete(hash)
}
