import { useQuery } from "@tanstack/react-query";
import { Button } from "react-bootstrap";
import { type Schemas, type Stick, server, type Tray } from "../../api/client";
import { problemOf } from "../../api/mutations";
import { Strokes } from "../../ui/Strokes";

const MOST = 6;

type Props = { tray: Tray; stick: Stick; onPick: (code: string) => void; onClose: () => void };

/** What stands in for a stick, in every box and range that is known. */
export function StandIns({ tray, stick, onPick, onClose }: Props) {
  const { data, error } = useQuery({
    queryKey: ["stand-ins", tray.id, stick.code],
    queryFn: () => server.standIns(tray.id, stick.code),
  });
  // A box with nothing else in it has no mix; that goes without saying.
  const { data: mix } = useQuery({
    queryKey: ["mixed", tray.id, stick.code, tray.sticks.length],
    queryFn: () => server.mixed(tray.id, stick.code),
    retry: false,
  });
  return (
    <div className="stand-ins" role="group" aria-label={`What stands in for ${stick.code}`}>
      {error && (
        <p className="problem" role="alert">
          {problemOf(error, "")}
        </p>
      )}
      {!data && !error && <p aria-live="polite">Trying the others on skin …</p>}
      {data?.length === 0 && <p>Nothing else of its kind is known.</p>}
      <ul>
        {data?.slice(0, MOST).map((row) => (
          <li key={row.code + row.swatch.hex}>
            <StandInRow row={row} onPick={onPick} />
          </li>
        ))}
      </ul>
      {mix && (
        <p className="mix-for">
          <span className="before-after">
            <Strokes hex={mix.wanted.hex} pressure="heavy" medium={stick.medium} />
            <Strokes hex={mix.swatch.hex} pressure="heavy" medium={stick.medium} />
          </span>
          <span>
            Or mixed, {mix.words}: {mix.layers.join("; then ")}.
          </span>
        </p>
      )}
      <Button variant="quiet" size="sm" onClick={onClose}>
        done
      </Button>
    </div>
  );
}

type RowProps = { row: Schemas["StandIn"]; onPick: (code: string) => void };

/** A stick that stands in, how it differs, and where it is. */
export function StandInRow({ row, onPick }: RowProps) {
  const words = (
    <>
      <b>{row.code}</b> {row.name}
    </>
  );
  return (
    <>
      <Strokes hex={row.swatch.hex} pressure="heavy" medium={row.medium} />
      <span>
        {row.here ? (
          <Button variant="quiet" size="sm" className="in-line" onClick={() => onPick(row.code)}>
            {words}
          </Button>
        ) : (
          words
        )}
        <span className="hint">
          {row.words}; value {row.swatch.value.toFixed(1)}
          {!row.here && `; in ${row.places.join(", ")}`}
          {row.cautions.map((caution) => ` ${caution}`)}
        </span>
      </span>
    </>
  );
}
