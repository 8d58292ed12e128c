/** The pending, failed and empty states that every place shares. */
import type { ReactNode } from "react";

export function Waiting({ error, what }: { error: Error | null; what: string }) {
  if (error) {
    return (
      <div role="alert" className="p-8 max-w-xl">
        <h2>{what.charAt(0).toUpperCase() + what.slice(1)} could not be opened</h2>
        <p className="mt-2">{error.message}</p>
        <button className="key mt-4" onClick={() => window.location.reload()}>
          Try again
        </button>
      </div>
    );
  }
  return (
    <p className="p-8 text-slate" aria-live="polite">
      Opening {what} …
    </p>
  );
}

export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="py-10 max-w-xl">
      <h2>{title}</h2>
      <div className="mt-2 text-slate">{children}</div>
    </div>
  );
}
