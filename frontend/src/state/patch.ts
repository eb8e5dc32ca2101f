/** JSON Patch (RFC 6902) as the server sends it: add, remove, replace, move. What is not touched is shared with the document before. */
export interface Op { op: string; path: string; from?: string; value?: unknown }

const keys = (path: string): string[] =>
  path.split('/').slice(1).map((k) => k.replace(/~1/g, '/').replace(/~0/g, '~'))

export function applyPatch<T>(document: T, patch: Op[]): T {
  return patch.reduce<unknown>((doc, op) => {
    if (op.op === 'move') {
      const from = keys(op.from!)
      return put(take(doc, from), keys(op.path), get(doc, from), 'add')
    }
    if (op.op === 'remove') return take(doc, keys(op.path))
    if (op.op === 'copy') return put(doc, keys(op.path), get(doc, keys(op.from!)), 'add')
    if (op.op === 'add' || op.op === 'replace') return put(doc, keys(op.path), op.value, op.op)
    throw new Error(`a patch cannot ${op.op}`)
  }, document) as T
}

function get(value: unknown, path: string[]): unknown {
  return path.reduce<unknown>((v, key) => {
    if (v === null || typeof v !== 'object' || !(key in v)) throw new Error(`nothing is at ${path.join('/')}`)
    return (v as Record<string, unknown>)[key]
  }, value)
}

/** A copy of what holds the last key, changed; and of all that holds that. */
function change(value: unknown, path: string[], work: (holder: unknown[] | Record<string, unknown>, key: string) => void): unknown {
  const [key, ...rest] = path
  if (value === null || typeof value !== 'object') throw new Error(`nothing is at ${path.join('/')}`)
  const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...value }) as unknown[] & Record<string, unknown>
  if (!rest.length) work(copy, key)
  else {
    if (!(key in copy)) throw new Error(`nothing is at ${path.join('/')}`)
    ;(copy as Record<string, unknown>)[key] = change((copy as Record<string, unknown>)[key], rest, work)
  }
  return copy
}

function put(value: unknown, path: string[], what: unknown, op: string): unknown {
  if (!path.length) return what
  return change(value, path, (holder, key) => {
    if (Array.isArray(holder) && op === 'add') holder.splice(key === '-' ? holder.length : Number(key), 0, what)
    else (holder as Record<string, unknown>)[key] = what
  })
}

function take(value: unknown, path: string[]): unknown {
  return change(value, path, (holder, key) => {
    if (Array.isArray(holder)) holder.splice(Number(key), 1)
    else delete holder[key]
  })
}
