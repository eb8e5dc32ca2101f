/** Picks as the document keeps them, and what they light up on the stage. */
import type { Fields, ProjectState } from '../api/client'
import type { BlobHeader } from '../stage/blob'

export interface Seen {
  kind: string
  at: [number, number, number]
  direction: [number, number, number]
  size: number
  around: string[]
}
export interface SeenThing { name: string; seen: Seen | null }

export type Pick =
  | { rule: 'faces'; part: string; faces: SeenThing[] }
  | { rule: 'faces_of_step'; part: string; step: string }
  | { rule: 'edges'; part: string; edges: SeenThing[]; chain: boolean }
  | { rule: 'edges_of_face'; part: string; face: SeenThing }
  | { rule: 'edges_between'; part: string; first: SeenThing; second: SeenThing }
  | { rule: 'edges_along'; part: string; direction: 'up' | 'across' | 'deep' }
  | { rule: 'corners'; part: string; corners: (SeenThing & { toward: [number, number, number] })[] }
  | { rule: 'base'; plane: 'ground' | 'front' | 'side' }
  | { rule: 'plane'; step: string }
  | { rule: 'flat'; part: string; face: SeenThing }
  | { rule: 'regions'; step: string; names: string[] | null }

/** A thing on the stage: a face or an edge of a part by its place in the mesh, or a region of a sketch. */
export type Thing =
  | { type: 'face' | 'edge'; part: string; index: number }
  | { type: 'region'; step: string; name: string }

export const sameThing = (a: Thing, b: Thing): boolean => JSON.stringify(a) === JSON.stringify(b)

/** Things that a pick stands for, found by name in the meshes on show (the server decides, this only lights up). */
export function lit(pick: Pick, headers: Map<string, BlobHeader>): Thing[] {
  if (pick.rule === 'regions') return (pick.names ?? []).map((name) => ({ type: 'region', step: pick.step, name }))
  if (!('part' in pick)) return []
  const header = headers.get(pick.part)
  if (!header) return []
  const faces = (test: (name: string, index: number) => boolean): Thing[] =>
    header.faces.flatMap((f, index) => (test(f.name, index) ? [{ type: 'face' as const, part: pick.part, index }] : []))
  const edges = (test: (e: BlobHeader['edges'][number]) => boolean): Thing[] =>
    header.edges.flatMap((e, index) => (test(e) ? [{ type: 'edge' as const, part: pick.part, index }] : []))
  const facesNamed = (name: string) => header.faces.flatMap((f, i) => (f.name === name ? [i] : []))
  switch (pick.rule) {
    case 'faces':
      return faces((n) => pick.faces.some((f) => f.name === n))
    case 'flat':
      return faces((n) => n === pick.face.name)
    case 'faces_of_step':
      return faces((n) => n.startsWith(`${pick.step}/`))
    case 'edges':
      return edges((e) => pick.edges.some((p) => p.name === e.name))
    case 'corners':
      return edges((e) => pick.corners.some((c) => c.name === e.name))
    case 'edges_of_face': {
      const own = facesNamed(pick.face.name)
      return edges((e) => e.between.some((b) => own.includes(b)))
    }
    case 'edges_between': {
      const [a, b] = [facesNamed(pick.first.name), facesNamed(pick.second.name)]
      return edges((e) => (a.includes(e.between[0]) && b.includes(e.between[1])) || (b.includes(e.between[0]) && a.includes(e.between[1])))
    }
    case 'edges_along': {
      const axis = { across: 0, deep: 1, up: 2 }[pick.direction]
      return edges((e) => e.kind === 'line' && !e.smooth && Math.abs(e.seen.direction[axis]) > 0.999)
    }
  }
}

/** A pick in a few words, for its chip. */
export function says(pick: Pick, project: ProjectState): string {
  const doc = project.document
  const part = 'part' in pick ? doc.parts.find((p) => p.id === pick.part)?.name ?? 'a part' : ''
  const stepName = (id: string, otherwise: string) => {
    const at = doc.recipe.findIndex((s) => s.id === id)
    return at < 0 ? `${otherwise} that is gone` : doc.recipe[at].name || `${otherwise} of step ${at + 1}`
  }
  switch (pick.rule) {
    case 'base':
      return { ground: 'the ground', front: 'the front plane', side: 'the side plane' }[pick.plane]
    case 'plane':
      return stepName(pick.step, 'plane')
    case 'regions': {
      const name = stepName(pick.step, 'outline')
      return pick.names === null ? name : `${pick.names.length} ${pick.names.length === 1 ? 'region' : 'regions'} of ${name}`
    }
    case 'flat':
      return faceWords(pick.face.name, part)
    case 'faces':
      return pick.faces.length === 1 ? faceWords(pick.faces[0].name, part) : `${pick.faces.length} faces of ${part}`
    case 'faces_of_step':
      return `all faces that ${stepName(pick.step, 'step')} made on ${part}`
    case 'edges':
      return pick.edges.length === 1 ? `an edge of ${part}` : `${pick.edges.length} edges of ${part}`
    case 'corners':
      return pick.corners.length === 1 ? `a corner of ${part}` : `${pick.corners.length} corners of ${part}`
    case 'edges_of_face':
      return `the edges round ${faceWords(pick.face.name, part)}`
    case 'edges_between':
      return `the edges between two faces of ${part}`
    case 'edges_along':
      return `the ${{ up: 'upright', across: 'left-to-right', deep: 'front-to-back' }[pick.direction]} edges of ${part}`
  }
}

function faceWords(name: string, part: string): string {
  const last = name.slice(name.indexOf('/') + 1)
  if (last.startsWith('rim(')) return `the rim of ${part}`
  if (last.startsWith('end')) return `the end of ${part}`
  if (last.startsWith('start')) return `the foot of ${part}`
  if (last.startsWith('inner(')) return `an inner wall of ${part}`
  if (last.startsWith('side(')) return `a side of ${part}`
  if (last.startsWith('seat')) return `the seat of ${part}`
  if (last.startsWith('back')) return `the back of ${part}`
  if (last.startsWith('lip')) return `the lip of ${part}`
  return `a face of ${part}`
}

/** Whether a field of this type holds a pick. */
export const isPickType = (type: string): boolean => ['face', 'faces', 'side', 'edges', 'corners', 'plane', 'regions'].includes(type)

export const pickOf = (fields: Fields, name: string): Pick | null => {
  const value = fields[name]
  return value && typeof value === 'object' && 'rule' in value ? (value as Pick) : null
}
