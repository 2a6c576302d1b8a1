import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { server, type Tray } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { trayQuery, useMaterials, useTrays } from "../../api/queries";
import { Confirm } from "../../ui/Confirm";
import { Segments } from "../../ui/Segments";
import { Chip } from "../../ui/Swatch";
import { PapersPanel } from "./PapersPanel";

const CONDITIONS = { good: "good", low: "nearly used up", dried_out: "dried out", wanted: "wanted" };

export function TrayPage() {
  const [part, setPart] = useState("sticks");
  return (
    <main className="page">
      <div className="page-head">
        <h1>Tray</h1>
        <Segments label="What to see" choices={["sticks", "papers"]} chosen={part} onChoose={setPart} />
        <span>What you own. Only sticks that are good or nearly used up go into recipes.</span>
      </div>
      {part === "papers" ? <PapersPanel /> : <Trays />}
    </main>
  );
}

function Trays() {
  const trays = useTrays();
  const [open, setOpen] = useState<string | null>(null);
  const chosen = trays.data?.find((tray) => tray.id === open) ?? trays.data?.[0];
  const shown = useQuery({ ...trayQuery(chosen?.id ?? ""), enabled: chosen !== undefined }).data;
  return (
    <div className="tray-columns">
      <aside>
        <ul className="tray-list" aria-label="Your trays">
          {trays.data?.map((tray) => (
            <li key={tray.id}>
              <Button variant={tray.id === chosen?.id ? "chosen" : "quiet"} onClick={() => setOpen(tray.id)}>
                {tray.name} <span className="numbers">{tray.size}</span>
              </Button>
            </li>
          ))}
        </ul>
        <AddTray onAdded={setOpen} />
      </aside>
      {shown ? (
        <Sticks key={shown.id} tray={shown} />
      ) : chosen || !trays.data ? (
        <section className="sticks" aria-busy="true" />
      ) : (
        <section className="empty">
          <h2>Tell Caltin what you own</h2>
          <p>
            Read in a list of your pencils or markers, or start from one of the ranges and mark what is
            missing.
          </p>
        </section>
      )}
    </div>
  );
}

function AddTray({ onAdded }: { onAdded: (id: string) => void }) {
  const materials = useMaterials();
  const queries = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const add = useWrite(
    (make: () => Promise<Tray>) => make(),
    ["trays"],
    (tray) => {
      queries.setQueryData(trayQuery(tray.id).queryKey, tray);
      onAdded(tray.id);
    },
  );
  const problem = problemOf(add.error);
  return (
    <section className="add-tray">
      <h2 className="h6">Add a tray</h2>
      <input
        ref={file}
        type="file"
        accept=".csv,text/csv"
        hidden
        aria-label="CSV file of your sticks"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) {
            const name = chosen.name.replace(/\.csv$/i, "").slice(0, 80) || "My tray";
            add.mutate(async () => server.addTray({ name, csv: await chosen.text() }));
          }
        }}
      />
      <Button variant="act" onClick={() => file.current?.click()}>
        Read in a CSV list
      </Button>
      <Form.Select
        aria-label="Start from a range"
        value=""
        onChange={(event) => {
          const range = materials.data?.ranges.find((candidate) => candidate.id === event.target.value);
          if (range) add.mutate(() => server.addTray({ name: range.name, range: range.id }));
        }}
      >
        <option value="">or start from a range …</option>
        {materials.data?.ranges.map((range) => (
          <option key={range.id} value={range.id}>
            {range.name} ({range.size})
          </option>
        ))}
      </Form.Select>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <p className="hint">
        The list has one stick a row under the header <code>code,name,medium,hex,opacity</code>; hex is a
        solid swatch on white paper.
      </p>
    </section>
  );
}

function Sticks({ tray }: { tray: Tray }) {
  const queries = useQueryClient();
  const ranges = useMaterials().data?.ranges ?? [];
  const [leaving, setLeaving] = useState(false);
  const put = useWrite(
    (ask: () => Promise<Tray>) => ask(),
    ["trays"],
    (changed) => queries.setQueryData(trayQuery(changed.id).queryKey, changed),
  );
  const remove = useWrite(
    () => server.deleteTray(tray.id),
    ["trays"],
    () => setLeaving(false),
  );
  const problem = problemOf(put.error ?? remove.error);
  return (
    <section className="sticks" aria-label={tray.name}>
      <div className="page-head">
        <h2 className="h5">{tray.name}</h2>
        <Form.Select
          size="sm"
          className="tray-more"
          aria-label="Put a range into this tray"
          value=""
          onChange={(event) => {
            const range = event.target.value;
            put.mutate(() => server.addRange(tray.id, range));
          }}
        >
          <option value="">add a range …</option>
          {ranges.map((range) => (
            <option key={range.id} value={range.id}>
              {range.name} ({range.size})
            </option>
          ))}
        </Form.Select>
        <Button variant="quiet" size="sm" onClick={() => setLeaving(true)}>
          Delete this tray
        </Button>
      </div>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <ul>
        {tray.sticks.map((stick) => (
          <li key={stick.code} className={stick.condition === "good" ? "" : "is-off"}>
            <Chip swatch={stick.swatch} />
            <span className="stick-words">
              <b className="numbers">{stick.code}</b> {stick.name}
            </span>
            <Form.Select
              size="sm"
              aria-label={`Condition of ${stick.name}`}
              value={stick.condition}
              onChange={(event) => {
                const condition = event.target.value;
                put.mutate(() => server.setCondition(tray.id, stick.code, condition));
              }}
            >
              {Object.entries(CONDITIONS).map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </Form.Select>
          </li>
        ))}
      </ul>
      <Confirm
        show={leaving}
        title={`Delete the tray “${tray.name}”?`}
        text="Pieces that use it keep their recipes, but cannot be mixed anew until another tray is chosen."
        action="Delete the tray"
        onConfirm={() => remove.mutate(undefined)}
        onCancel={() => setLeaving(false)}
      />
    </section>
  );
}
