const STEP = 1.5;

type Props = { near: number; nearest: boolean; onStep: (factor: number) => void; onWhole: () => void };

/** How near the picture is seen. */
export function ZoomBar({ near, nearest, onStep, onWhole }: Props) {
  return (
    <div className="zoom-bar" role="group" aria-label="How near">
      <button type="button" onClick={() => onStep(STEP)} disabled={nearest} aria-keyshortcuts="z">
        nearer
      </button>
      {near > 1 && (
        <>
          <button type="button" onClick={() => onStep(1 / STEP)} aria-keyshortcuts="o">
            farther
          </button>
          <button type="button" onClick={onWhole} aria-keyshortcuts="0">
            whole
          </button>
        </>
      )}
    </div>
  );
}
