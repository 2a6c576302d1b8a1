import { Link } from "react-router";

type Props = { title: string; text: string; to: string; deed: string };

/** A view with nothing in it yet: why, and the one thing to do about it. */
export function EmptyPage({ title, text, to, deed }: Props) {
  return (
    <main className="page">
      <section className="empty">
        <h1>{title}</h1>
        <p>{text}</p>
        <Link className="btn btn-act btn-deed" to={to}>
          {deed}
        </Link>
      </section>
    </main>
  );
}
