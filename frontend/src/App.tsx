import { useEffect, useState } from 'react'
import { Start } from './pages/Start'
import { Workshop } from './pages/Workshop'
import './testHooks'
import { keepFocus } from './widgets/keepFocus'

const idIn = (path: string) => /^\/p\/([0-9a-f]+)$/.exec(path)?.[1] ?? null

export function App() {
  const [id, setId] = useState(idIn(location.pathname))
  useEffect(() => {
    const back = () => setId(idIn(location.pathname))
    window.addEventListener('popstate', back)
    return () => window.removeEventListener('popstate', back)
  }, [])
  const go = (next: string | null) => {
    history.pushState(null, '', next ? `/p/${next}` : '/')
    setId(next)
  }
  useEffect(() => keepFocus(document.getElementById('root')!), [])
  return id ? <Workshop key={id} id={id} onHome={() => go(null)} /> : <Start open={go} />
}
