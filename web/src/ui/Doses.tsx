import type { Schemas } from "../api/client";
import { Weight } from "./Weight";

type Props = {
  /** Each in words, the smallest first. */
  doses: string[];
  /** In areas that have names; none where areas were drawn. */
  where: Schemas["LayerMap"]["where"];
};

/** The doses of a map, each by the lines that stand for it, and where it lies if that has a name. */
export function Doses({ doses, where }: Props) {
  return (
    <ol
      className={`layer-doses ${where.length ? "are-named" : ""}`}
      aria-label="How hard, from fine to heavy lines"
    >
      {doses.map((words, i) => {
        const areas = where.filter((part) => part.dose === i + 1).map((part) => part.area);
        return (
          <li key={words}>
            <Weight part={(i + 1) / doses.length} />
            <span>
              {words}
              {areas.length > 0 && <span className="hint"> on {areas.join("; ")}</span>}
            </span>
          </li>
        );
      })}
    </ol>
  );
}
