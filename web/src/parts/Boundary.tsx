import { Component, type ReactNode } from "react";
import { Button } from "./Button";

/** Catches what breaks in a page, so that the person has a sentence and a way on. */
export class Boundary extends Component<{ children: ReactNode }, { broken: Error | null }> {
  override state = { broken: null as Error | null };

  static getDerivedStateFromError(broken: Error) {
    return { broken };
  }

  override componentDidCatch(broken: Error) {
    console.error(broken);
  }

  override render() {
    if (!this.state.broken) return this.props.children;
    return (
      <main
        role="alert"
        className="grid h-full place-content-center justify-items-center gap-4 p-6 text-center"
      >
        <p className="max-w-md">
          Something broke on this page. What you did is stored, or waits in this browser and is sent
          when the page is open again.
        </p>
        <p className="max-w-md text-xs text-quiet">{this.state.broken.message}</p>
        <div className="flex gap-2">
          <Button look="lamp" onClick={() => location.reload()}>
            Open the page again
          </Button>
          <Button onClick={() => location.assign("/")}>To the shelf</Button>
        </div>
      </main>
    );
  }
}
