import { problemOf } from "../api/mutations";

type Props = { error: Error | null; onAgain: () => void };

/** What could not be fetched, in its place in a view, and another go. */
export function Trouble({ error, onAgain }: Props) {
  return (
    <p className="problem" role="alert">
      {problemOf(error, "")}{" "}
      <button type="button" className="btn btn-quiet btn-sm" onClick={onAgain}>
        try again
      </button>
    </p>
  );
}

/** A view that could not be fetched at all: why, and another go. */
export function Failed({ error, onAgain }: Props) {
  return (
    <main className="page">
      <section className="empty" role="alert">
        <h1>This did not come through</h1>
        <p>{problemOf(error, "")}</p>
        <button type="button" className="btn btn-act btn-deed" onClick={onAgain}>
          Try again
        </button>
      </section>
    </main>
  );
}
