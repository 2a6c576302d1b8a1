import { useRef } from "react";
import { Button } from "react-bootstrap";
import { type Taken, takeIn, takenWords } from "../api/files";
import { problemOf, useWrite } from "../api/mutations";

const EVERYTHING = [
  "pieces",
  "trays",
  "tray",
  "papers",
  "complexions",
  "practice",
  "trials",
  "space",
  "notebook",
];

type Props = { says: string; onTaken?: (taken: Taken) => void };

/** Takes in a file that Caltin wrote: a piece, a box, practice, or all that an artist had. */
export function TakeIn({ says, onTaken }: Props) {
  const file = useRef<HTMLInputElement>(null);
  const taking = useWrite(takeIn, EVERYTHING, onTaken);
  const problem = problemOf(taking.error, "");
  return (
    <>
      <input
        ref={file}
        type="file"
        hidden
        accept=".zip,application/zip"
        aria-label={says}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) taking.mutate(chosen);
        }}
      />
      <Button variant="quiet" disabled={taking.isPending} onClick={() => file.current?.click()}>
        {taking.isPending ? "Taking it in …" : says}
      </Button>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      {taking.data && (
        <p role="note" className="taken-in">
          {takenWords(taking.data).join(" ")}
        </p>
      )}
    </>
  );
}
