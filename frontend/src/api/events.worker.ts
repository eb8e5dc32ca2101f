/** One stream of events for all windows of a browser: it holds one connection and one thread of the server, however many windows there are. */
interface Port { postMessage: (message: unknown) => void; onmessage: ((e: MessageEvent) => void) | null; start: () => void }

const EVENTS = ['document', 'progress', 'evaluation', 'removed', 'workshop']
const ports = new Set<Port>()
let source: EventSource | null = null
let state: 'open' | 'cut' | '' = ''

const tell = (event: string, data: unknown) => ports.forEach((port) => port.postMessage({ event, data }))

function open(): void {
  source = new EventSource('/api/events')
  for (const name of EVENTS) source.addEventListener(name, (e) => tell(name, JSON.parse((e as MessageEvent<string>).data)))
  source.onopen = () => tell((state = 'open'), {})
  source.onerror = () => {
    tell((state = 'cut'), {})
    // a stream that was refused does not try again by itself
    if (source?.readyState === EventSource.CLOSED) setTimeout(open, 2000)
  }
}

;(self as unknown as { onconnect: (e: { ports: Port[] }) => void }).onconnect = ({ ports: [port] }) => {
  ports.add(port)
  port.onmessage = (e) => {
    if (e.data === 'close') ports.delete(port)
  }
  port.start()
  if (!source) open()
  else if (state) port.postMessage({ event: state, data: {} })
}
