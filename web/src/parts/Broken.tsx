import { Component, type ReactNode } from "react";
import { Sign } from "./Sign";

/** Something broke while a page was drawn: plain words, and the ways on. */
function Broken({ error }: { error: unknown }) {
  return (
    <main role="alert" className="m-6 max-w-[60ch]">
      <h1 className="tight flex items-center gap-3 text-[30px] leading-tight font-[780] text-oxide">
        <Sign kind="stop" bare size={22} /> This page broke.
      </h1>
      <p className="mt-2 text-[17px]">What was saved is safe, and what you were entering is kept on this device.</p>
      <p className="mt-1 text-soft">{error instanceof Error ? error.message : ""}</p>
      <div className="mt-5 flex flex-wrap gap-3">
        <button className="btn" onClick={() => window.location.reload()}>
          Load it again
        </button>
        <a className="btn btn-line" href="/">
          To the floor
        </a>
      </div>
    </main>
  );
}

/** Catches what breaks inside it, so that the rest goes on. */
export class Boundary extends Component<{ children: ReactNode }, { error?: unknown }> {
  override state: { error?: unknown } = {};

  static getDerivedStateFromError(error: unknown) {
    return { error };
  }

  override render() {
    return "error" in this.state ? <Broken error={this.state.error} /> : this.props.children;
  }
}
