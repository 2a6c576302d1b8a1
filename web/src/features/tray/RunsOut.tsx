import { useQuery } from "@tanstack/react-query";
import { server, type Tray } from "../../api/client";
import { Strokes } from "../../ui/Strokes";
import { CONDITIONS } from "../../ui/stickWords";

const MOST = 8;

/** What plans still ask of the sticks of a box, the scarcest first. */
export function RunsOut({ tray }: { tray: Tray }) {
  const { data } = useQuery({
    queryKey: ["runs out", tray.id],
    queryFn: () => server.runsOut(tray.id),
    refetchOnMount: "always",
  });
  const rows = (data ?? []).flatMap((row) => {
    const stick = tray.sticks.find((each) => each.code === row.code);
    return stick ? [{ ...row, stick }] : [];
  });
  return (
    <section aria-label="Runs out first">
      <h2>Runs out first</h2>
      {data && rows.length === 0 && <p className="hint">No plan uses this box yet.</p>}
      <ol className="runs-out">
        {rows.slice(0, MOST).map(({ stick, words, cm2 }) => (
          <li key={stick.code}>
            <Strokes hex={stick.swatch.hex} pressure="medium" medium={stick.medium} />
            <span>
              <b>{stick.code}</b> {stick.name}
              <span className="hint">
                {stick.count > 1 ? `${stick.count} of them, ` : ""}
                {CONDITIONS[stick.condition]}: {words}
              </span>
            </span>
            <span className="runs-much">{cm2 < 10 ? cm2.toFixed(1) : Math.round(cm2)} cm²</span>
          </li>
        ))}
      </ol>
      {rows.length > 0 && (
        <p className="hint">
          What the plans of your pieces still ask for, as if laid closed and heavy; what is ticked is done. A
          rough measure: how far each goes is assumed.
        </p>
      )}
    </section>
  );
}
