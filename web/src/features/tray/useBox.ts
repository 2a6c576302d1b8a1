import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { type Schemas, server, type Tray } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { trayQuery } from "../../api/queries";

type Change = Schemas["StickChangeRequest"];

/** What can be done to a box; all of it can be undone. */
export function useBox(tray: Tray) {
  const queries = useQueryClient();
  const [said, setSaid] = useState("");
  // One after the other, so that the last answer is the last state.
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const after = (ask: () => Promise<Tray>) => {
    const next = last.current.then(ask, ask);
    last.current = next;
    return next;
  };
  const keep = (changed: Tray) => queries.setQueryData(trayQuery(changed.id).queryKey, changed);
  const write = useWrite(after, ["trays"], keep);
  const step = useWrite(after, ["trays"], (changed) => {
    keep(changed);
    setSaid(changed.did);
  });
  const move = useWrite(
    (body: Schemas["MoveSticksRequest"]) => server.moveSticks(tray.id, body),
    ["trays", "tray"],
  );
  const run = (ask: () => Promise<Tray>) => {
    setSaid("");
    write.mutate(ask);
  };
  return {
    change: (codes: string[], change: Change) => run(() => server.changeSticks(tray.id, codes, change)),
    takeAway: (codes: string[]) => run(() => server.takeSticksAway(tray.id, codes)),
    order: (codes: string[]) => run(() => server.orderSticks(tray.id, codes)),
    tidy: (body: Schemas["TrayChangeRequest"]) => run(() => server.tidyTray(tray.id, body)),
    move: move.mutate,
    undo: () => tray.undoes && step.mutate(() => server.undoTray(tray.id)),
    redo: () => tray.redoes && step.mutate(() => server.redoTray(tray.id)),
    /** What was undone or done again just now. */
    said,
    busy: write.isPending || step.isPending || move.isPending,
    problem: problemOf(write.error ?? step.error ?? move.error, ""),
  };
}

export type Box = ReturnType<typeof useBox>;
