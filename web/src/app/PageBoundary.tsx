import { Component, type ReactNode } from "react";

type Props = { children: ReactNode };

/** Keeps a fault of one page on that page: the others, and the way to them, stay as they are. */
export class PageBoundary extends Component<Props, { fault?: Error }> {
  override state: { fault?: Error } = {};

  static getDerivedStateFromError(fault: Error) {
    return { fault };
  }

  override render() {
    const { fault } = this.state;
    if (!fault) return this.props.children;
    return (
      <section role="alert" className="p-6">
        <h2 className="font-semibold">This page cannot be shown</h2>
        <p className="mt-1">{fault.message}</p>
        <p className="mt-1 text-dim">
          Nothing that was saved is lost. The other pages work; to try this one again, load it anew.
        </p>
        <button type="button" className="press mt-2" onClick={() => window.location.reload()}>
          Load the page again
        </button>
      </section>
    );
  }
}
