import type { Schemas, Stick } from "../api/client";

type NewStick = Schemas["NewStickRequest"];

/** A stick as it is put into a box. */
export const asNew = ({ swatch: _, equal: __, mistaken: ___, cautions: ____, ...stick }: Stick): NewStick =>
  stick;

type Read = Schemas["ReadStick"];

/** What a hand has set about a row of a list. */
export type Mended = Partial<Pick<Read, "code" | "name" | "medium" | "hex">> & Sourced;

/** How a colour came to be known, where a hand has set it. */
type Sourced = { source?: "picked" | "like another" };
export type Row = Read & Sourced;

/** A row as it is now: what was set by hand stands, and what was wrong about it no longer is. */
export function mended(row: Read, by: Mended | undefined): Row {
  if (!by) return row;
  const set = Object.keys(by);
  return {
    ...row,
    ...by,
    // Another colour is not what was measured.
    ...(by.hex === undefined ? {} : { spectrum: [] }),
    guessed: row.guessed.filter((field) => !set.includes(field)),
    wrong: row.wrong.filter((fault) => !set.includes(fault.field)),
  };
}

/** The rows, with what hands have made wrong about them; and those that may be put in, as sticks. */
export function sorted(given: readonly Row[]): { rows: Row[]; fine: NewStick[] } {
  const seen = new Map<string, number>();
  const rows = given.map((row) => {
    const before = seen.get(row.code);
    seen.set(row.code, before ?? row.number);
    if (before === undefined || row.wrong.some((fault) => fault.field === "code")) return row;
    const said = `${row.code} stands in line ${before} as well.`;
    return { ...row, wrong: [...row.wrong, { field: "code", said }] };
  });
  const fine = rows
    .filter((row) => row.wrong.length === 0)
    .map(({ number: _, guessed, wrong: __, ...stick }) => ({
      ...stick,
      source: guessed.includes("hex") ? "guessed" : (stick.source ?? ""),
    }));
  return { rows, fine };
}

const TYPED = "caltin-list";

/** What was typed and is not put in yet: a drawer that is closed by mistake loses nothing. */
export const typed = {
  read: (): string => sessionStorage.getItem(TYPED) ?? "",
  keep: (text: string): void => {
    try {
      sessionStorage.setItem(TYPED, text);
    } catch {
      // It is still in the field.
    }
  },
  forget: (): void => sessionStorage.removeItem(TYPED),
};

const KEY = "caltin-columns";

/** What columns with these heads were said to be the last time. */
export function remembered(header: readonly string[]): string[] | null {
  try {
    const held = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, string[]>;
    const columns = held[header.join("|")];
    return columns?.length === header.length ? columns : null;
  } catch {
    return null;
  }
}

export function remember(header: readonly string[], columns: readonly string[]): void {
  try {
    const held = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, readonly string[]>;
    const kept = Object.entries({ ...held, [header.join("|")]: columns }).slice(-30);
    localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(kept)));
  } catch {
    // Nothing is lost but a convenience.
  }
}
