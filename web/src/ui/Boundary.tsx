/** Catches what goes wrong while a place is drawn: the rest of the page stays, what was typed there is
 *  shown again, and there is a way on. */
import { Component, type ReactNode } from "react";

interface Typed {
  field: string;
  text: string;
}

interface State {
  error: Error | null;
  typed: Typed[];
}

interface Props {
  /** in words, "the page" or "the Mix stage" */
  what: string;
  /** another place was opened: what went wrong in the last one is over */
  where?: string;
  children: ReactNode;
}

/** An update of the program takes the old page's parts away; the new page has them. */
function isOutdated(error: Error): boolean {
  return /dynamically imported module|module script|Importing a module|ChunkLoadError/i.test(error.message);
}

function nameOf(field: HTMLInputElement | HTMLTextAreaElement): string {
  return field.labels?.[0]?.textContent?.trim() || field.getAttribute("aria-label") || field.placeholder;
}

export class Boundary extends Component<Props, State> {
  state: State = { error: null, typed: [] };
  /** By field, in the order of typing; passwords are never kept. */
  private readonly heard = new Map<EventTarget, Typed>();

  static getDerivedStateFromError(error: unknown): Partial<State> {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  componentDidCatch(): void {
    this.setState({ typed: [...this.heard.values()].filter((one) => one.text) });
  }

  componentDidUpdate(before: Props): void {
    if (before.where === this.props.where) return;
    this.heard.clear();
    // oxlint-disable-next-line react/no-did-update-set-state -- once, when the place has changed
    if (this.state.error) this.setState({ error: null, typed: [] });
  }

  private readonly hear = (event: React.FormEvent): void => {
    const field = event.target;
    const isField = field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement;
    if (isField && !["password", "checkbox", "radio", "file"].includes(field.type))
      this.heard.set(field, { field: nameOf(field), text: field.value });
  };

  render(): ReactNode {
    const { error, typed } = this.state;
    if (!error)
      return (
        <div className="contents" onInput={this.hear}>
          {this.props.children}
        </div>
      );
    const outdated = isOutdated(error);
    return (
      <div role="alert" className="p-8 max-w-xl">
        <h2>{outdated ? "Cavatum was updated" : `${this.props.what} could not be shown`}</h2>
        <p className="mt-2">
          {outdated
            ? "This page is from before the update. Load it again; everything saved is there."
            : "A fault in the program. Everything that was saved is kept; the other pages work."}
        </p>
        {typed.length ? (
          <>
            <p className="mt-3">What you had typed here:</p>
            <dl className="mt-1">
              {typed.map((one, index) => (
                <div key={index} className="flex gap-3">
                  <dt className="text-slate">{one.field}</dt>
                  <dd className="select-all">{one.text}</dd>
                </div>
              ))}
            </dl>
          </>
        ) : null}
        <p className="mt-4 flex flex-wrap gap-3">
          {outdated ? null : (
            <button className="key" onClick={() => this.setState({ error: null, typed: [] })}>
              Try again
            </button>
          )}
          <button className={outdated ? "key" : "quiet"} onClick={() => window.location.reload()}>
            Load the page again
          </button>
          <a className="quiet" href="/">
            To the bench
          </a>
        </p>
        {outdated ? null : <p className="mt-4 text-[13px] text-slate">{error.message}</p>}
      </div>
    );
  }
}
