import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import './theme/tokens.css'
import { App } from './App'
import { Caught } from './widgets/Caught'
import { applyTheme, storedTheme } from './theme/theme'

applyTheme(storedTheme())
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Caught>
      <App />
    </Caught>
  </StrictMode>,
)
