import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Piece } from "../../api/client";
import { hasFailed } from "../../api/client";
import { type PrintedMaps, pageUrl, planUrl, sheetPages } from "../../api/files";
import { problemOf } from "../../api/mutations";
import { EmptyPage } from "../../ui/EmptyPage";
import { Failed } from "../../ui/Failed";
import { Segments } from "../../ui/Segments";
import "./work.css";

const MAPS: readonly PrintedMaps[] = [0, 1, 4];
const SAID: Record<PrintedMaps, string> = { 0: "beside the layers alone", 1: "one a page", 4: "four a page" };

/** The plan on paper: the pages as they are printed, and which of them are wanted. */
export function PrintPage({ piece }: { piece: Piece }) {
  const [maps, setMaps] = useState<PrintedMaps>(0);
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const mapped = piece.picture !== null && piece.document.layers.length > 0;
  const found = useQuery({
    queryKey: ["plan pages", piece.id, piece.keys.sheet, piece.keys.layers, maps],
    queryFn: () => sheetPages(piece.id, maps),
  });
  const pages = Array.from({ length: found.data?.pages ?? 0 }, (_, i) => i + 1);
  const wanted = pages.filter((page) => !left.has(page));
  const only = wanted.length < pages.length ? wanted : [];
  const toggle = (page: number) => {
    const now = new Set(left);
    if (!now.delete(page)) now.add(page);
    setLeft(now);
  };
  if (hasFailed(found.error)) return <Failed error={found.error} onAgain={() => void found.refetch()} />;
  if (found.error)
    return (
      <EmptyPage
        title={`${piece.title}, on paper`}
        text={problemOf(found.error, "")}
        to={`/pieces/${piece.id}/mix`}
        deed="Go and plan"
      />
    );
  return (
    <main className="page print-page">
      <header className="page-head">
        <h1>{piece.title}, on paper</h1>
        <Link to={`/pieces/${piece.id}/work`} className="btn btn-quiet">
          Back
        </Link>
        <a
          className={`btn btn-act btn-deed${wanted.length ? "" : " disabled"}`}
          aria-disabled={wanted.length === 0}
          href={planUrl(piece.id, "pdf", maps, only)}
          target="_blank"
          rel="noreferrer"
        >
          {only.length ? `Print ${wanted.length} of ${pages.length} pages` : "Print it"}
        </a>
      </header>
      <p>
        A PDF at its true size: print it at 100 %, not fitted to the page. Lay each colour into the empty
        frame beside its swatch on the paper that you draw on.
      </p>
      {mapped && (
        <div className="print-choices">
          <span>Maps</span>
          <Segments
            label="Maps"
            choices={MAPS}
            chosen={maps}
            onChoose={(next) => {
              setLeft(new Set());
              setMaps(next);
            }}
            say={(one) => SAID[one]}
          />
        </div>
      )}
      {found.isPending && (
        <p className="hint" aria-live="polite">
          Drawing the pages …
        </p>
      )}
      <ol className="print-pages" aria-label="Pages">
        {pages.map((page) => (
          <li key={page} className={left.has(page) ? "is-left" : ""}>
            <img
              src={pageUrl(piece.id, maps, page)}
              alt={`What is on page ${page}`}
              loading="lazy"
              width={496}
              height={702}
            />
            <Form.Check
              id={`page-${page}`}
              label={`page ${page}`}
              checked={!left.has(page)}
              onChange={() => toggle(page)}
            />
          </li>
        ))}
      </ol>
    </main>
  );
}
