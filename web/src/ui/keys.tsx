import { createContext, type ReactNode, useContext, useEffect, useMemo, useRef, useState } from "react";
import { Modal } from "react-bootstrap";

export type KeyAction = { key: string; does: string; run: () => void };

const Registry = createContext<{ list: React.RefObject<Map<number, KeyAction[]>> } | null>(null);
let next = 0;

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

/** Collects the keys of everything on screen, runs them, and shows them all on “?”. */
export function KeysProvider({ children }: { children: ReactNode }) {
  const list = useRef(new Map<number, KeyAction[]>());
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (typing(event.target) || event.defaultPrevented) return;
      const key = pressed(event);
      if (key === "?") return setOpen(true);
      for (const actions of list.current.values()) {
        const action = actions.find((candidate) => candidate.key === key);
        if (action) {
          event.preventDefault();
          return action.run();
        }
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  const value = useMemo(() => ({ list }), []);
  const all = open ? [...list.current.values()].flat() : [];
  return (
    <Registry.Provider value={value}>
      {children}
      <Modal show={open} onHide={() => setOpen(false)} centered aria-labelledby="keys-title">
        <Modal.Body>
          <h2 id="keys-title" className="h4">
            Keys
          </h2>
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

/** Keys that work while the calling component is on screen. */
export function useKeys(actions: KeyAction[]): void {
  const registry = useContext(Registry);
  const id = useRef(0);
  useEffect(() => {
    id.current ||= ++next;
    const mine = id.current;
    const list = registry?.list.current;
    list?.set(mine, actions);
    return () => void list?.delete(mine);
  }, [registry, actions]);
}
