import { useEffect, useRef, useState } from "react";
import { useEditor, usePiece } from "../../document/useEditor";

/** Under which id the seconds worked are noted with the ticks. */
const CLOCK = "clock";
const TICK_MS = 1000;
const KEPT_EVERY_S = 30;

/** The time worked on a piece: it runs while the easel is open and seen, can be paused, and is kept with the piece. */
export function useClock(): { words: string; running: boolean; toggle: () => void } {
  const kept = Number(usePiece().work.notes[CLOCK] ?? 0) || 0;
  const { note } = useEditor();
  const [running, setRunning] = useState(true);
  const [seconds, setSeconds] = useState(kept);
  const last = useRef(kept);
  useEffect(() => {
    // Another window may have worked on.
    setSeconds((held) => Math.max(held, kept));
    last.current = Math.max(last.current, kept);
  }, [kept]);
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => {
      if (document.visibilityState === "visible") setSeconds((held) => held + 1);
    }, TICK_MS);
    return () => clearInterval(timer);
  }, [running]);
  useEffect(() => {
    if (seconds - last.current < KEPT_EVERY_S && running) return;
    if (seconds === last.current) return;
    last.current = seconds;
    note({ [CLOCK]: { note: String(seconds) } });
  }, [seconds, running, note]);
  const [hours, minutes] = [Math.floor(seconds / 3600), Math.floor((seconds % 3600) / 60)];
  return {
    words: hours ? `${hours} h ${String(minutes).padStart(2, "0")}` : `${minutes} min`,
    running,
    toggle: () => setRunning(!running),
  };
}
