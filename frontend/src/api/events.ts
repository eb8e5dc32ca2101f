/** Live events of a project: by a stream that all windows of the browser share; where there is none to be had, by asking now and then. */
type Heard = (event: string, data: Record<string, unknown>) => void

const ASK_MS = 700

/** Tells of a project's events until it is told to stop; ``open`` and ``cut`` tell whether the server is there. */
export function listen(project: string, heard: Heard): () => void {
  const own = (event: string, data: Record<string, unknown>) => {
    if (event === 'open' || event === 'cut' || data.project === project) heard(event, data)
  }
  if (typeof SharedWorker === 'undefined') return ask(project, own)
  const worker = new SharedWorker(new URL('./events.worker.ts', import.meta.url), { type: 'module', name: 'dove-joint-events' })
  let asking: (() => void) | null = null
  let cut: number | undefined
  worker.port.onmessage = (e: MessageEvent<{ event: string; data: Record<string, unknown> }>) => {
    const { event, data } = e.data
    if (event === 'cut') {
      // a server that is there but has no stream to give answers questions
      cut ??= window.setTimeout(() => (asking ??= ask(project, own)), 3000)
      if (!asking) own(event, data)
      return
    }
    if (event === 'open') {
      window.clearTimeout(cut)
      cut = undefined
      asking?.()
      asking = null
    }
    own(event, data)
  }
  worker.onerror = () => (asking ??= ask(project, own))
  worker.port.start()
  return () => {
    window.clearTimeout(cut)
    asking?.()
    worker.port.postMessage('close')
    worker.port.close()
  }
}

function ask(project: string, heard: Heard): () => void {
  let after = 0
  let stopped = false
  let there: boolean | null = null
  const once = async () => {
    try {
      const response = await fetch(`/api/events/since?project=${project}&after=${after}`)
      if (!response.ok) throw new Error(String(response.status))
      const { newest, events } = (await response.json()) as { newest: number; events: { event: string; data: Record<string, unknown> }[] }
      if (stopped) return
      if (there !== true) heard('open', {})
      there = true
      // a server that started anew counts from the beginning
      after = newest
      for (const { event, data } of events) heard(event, data)
    } catch {
      if (there !== false && !stopped) heard('cut', {})
      there = false
    }
    if (!stopped) window.setTimeout(() => void once(), ASK_MS)
  }
  void once()
  return () => {
    stopped = true
  }
}
