import {
  createContext,
  type ReactNode,
  type RefObject,
  useContext,
  useEffect,
  useRef,
  useState,
} from "react";
import { Modal } from "react-bootstrap";

export type KeyAction = { key: string; does: string; run: () => void };

type Held = Set<RefObject<KeyAction[]>>;

const Registry = createContext<Held | null>(null);
const Dialog = createContext<() => void>(() => {});
const SINGLE = "caltin.keys";

function pressed(event: KeyboardEvent): string {
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return (
    (event.ctrlKey || event.metaKey ? "Ctrl+" : "") +
    (event.shiftKey && name.length > 1 ? "Shift+" : "") +
    name
  );
}

function typing(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return !!element?.closest(
    "input:not([type=range]):not([type=radio]), textarea, select, [role=dialog], [role=menu]",
  );
}

/** Whether a key does something of its own where the focus is: Enter and the space bar press buttons and follow links. */
function presses(event: KeyboardEvent): boolean {
  const element = event.target as HTMLElement | null;
  return (event.key === "Enter" || event.key === " ") && !!element?.closest("button, a[href], summary");
}

/** Collects the keys of everything on screen, runs them, and shows them all on “?”. */
export function KeysProvider({ children }: { children: ReactNode }) {
  const [held] = useState<Held>(() => new Set());
  const [open, setOpen] = useState(false);
  const [single, setSingle] = useState(() => localStorage.getItem(SINGLE) !== "off");
  const singly = (on: boolean) => {
    setSingle(on);
    localStorage.setItem(SINGLE, on ? "on" : "off");
  };
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (typing(event.target) || presses(event) || event.defaultPrevented) return;
      const key = pressed(event);
      // A letter that speech or a slip has typed does nothing where single keys are turned off.
      if (!single && key.length === 1) return;
      if (key === "?") return setOpen(true);
      for (const actions of held) {
        const action = actions.current.find((candidate) => candidate.key === key);
        if (action) {
          event.preventDefault();
          return action.run();
        }
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [held, single]);
  const all = open ? [...held].flatMap((actions) => actions.current) : [];
  return (
    <Registry.Provider value={held}>
      <Dialog.Provider value={() => setOpen(true)}>{children}</Dialog.Provider>
      <Modal show={open} onHide={() => setOpen(false)} centered size="lg" aria-labelledby="keys-title">
        <Modal.Body>
          <h2 id="keys-title" className="h4">
            Keys
          </h2>
          <label className="keys-single">
            <input
              type="checkbox"
              className="form-check-input"
              checked={single}
              onChange={(event) => singly(event.target.checked)}
            />
            Single letters and digits work
          </label>
          <dl className="key-list">
            {all.map((action) => (
              <div key={action.key + action.does}>
                <dt>
                  <kbd>{action.key}</kbd>
                </dt>
                <dd>{action.does}</dd>
              </div>
            ))}
            <div>
              <dt>
                <kbd>?</kbd>
              </dt>
              <dd>Show these keys; Escape closes them</dd>
            </div>
          </dl>
        </Modal.Body>
      </Modal>
    </Registry.Provider>
  );
}

/** Shows all keys, also where single ones are turned off. */
export const useKeysDialog = () => useContext(Dialog);

/** Keys that work while the calling component is on screen. */
export function useKeys(actions: KeyAction[]): void {
  const held = useContext(Registry);
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  useEffect(() => {
    held?.add(latest);
    return () => void held?.delete(latest);
  }, [held]);
}
