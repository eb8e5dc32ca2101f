import { Component, type ReactNode } from 'react'

/** What stands below it; should drawing that fail by our own fault, a sentence and a way on instead of an empty page. */
export class Caught extends Component<{ children: ReactNode }, { message: string }> {
  state = { message: '' }

  static getDerivedStateFromError(error: unknown) {
    return { message: error instanceof Error ? error.message : String(error) }
  }

  render() {
    if (!this.state.message) return this.props.children
    return (
      <main role="alert" className="mx-auto mt-24 max-w-xl border border-ink bg-card p-6">
        <h1 className="text-[18px] font-semibold">This page met a fault of ours.</h1>
        <p className="mt-2">All that was kept is safe. Load the page again to go on; the last change can be taken back there.</p>
        <p className="fig mt-2 text-ink2">{this.state.message}</p>
        <button className="strong mt-4" onClick={() => location.reload()}>
          load the page again
        </button>
      </main>
    )
  }
}
