import type { Piece, PieceDocument } from "../api/client";

/**
 * A document as a flat table of its parts, so that only what changed is sent, and what two have changed is merged.
 *
 * The path of a part is `spots/spot-1/name`, `setup/finish` or `light`. A list of things with ids is the list of its
 * ids under its own name (`spots`), which says what is there and in which order. The server does the same (parts.py);
 * both are tested on tests/parts.json. The title of a piece counts as a part here too.
 */
export type Parts = Record<string, unknown>;

type Row = { id: string };
const LISTS = ["marks", "figures", "spots", "surroundings", "layers"] as const;
const GROUPS = ["setup", "format", "maps"] as const;
const isList = (name: string): name is (typeof LISTS)[number] => (LISTS as readonly string[]).includes(name);
const isGroup = (name: string): name is (typeof GROUPS)[number] =>
  (GROUPS as readonly string[]).includes(name);

export type Titled = Pick<Piece, "title" | "document">;

const equal = (one: unknown, other: unknown): boolean =>
  one === other || JSON.stringify(one) === JSON.stringify(other);

/** The parts of a document. */
export function partsOf(document: PieceDocument): Parts {
  const parts: Parts = {};
  for (const [name, held] of Object.entries(document)) {
    if (isList(name)) {
      const rows = held as Row[];
      parts[name] = rows.map((row) => row.id);
      for (const { id, ...fields } of rows)
        for (const [field, part] of Object.entries(fields)) parts[`${name}/${id}/${field}`] = part;
    } else if (isGroup(name))
      for (const [field, part] of Object.entries(held as object)) parts[`${name}/${field}`] = part;
    else parts[name] = held;
  }
  return parts;
}

/** The document with these parts instead; what they do not touch is the same object as before. */
export function changed(document: PieceDocument, some: Parts): PieceDocument {
  const next: Record<string, unknown> = { ...document };
  const rows = new Map<string, Map<string, Record<string, unknown>>>();
  const rowsOf = (name: string) => {
    const held = rows.get(name);
    if (held) return held;
    const made = new Map(
      (next[name] as (Row & Record<string, unknown>)[]).map((row) => [row.id, row] as const),
    );
    rows.set(name, made as Map<string, Record<string, unknown>>);
    return made as Map<string, Record<string, unknown>>;
  };
  for (const [path, part] of Object.entries(some)) {
    const [name = "", key = "", field] = path.split("/");
    if (isList(name)) {
      const mine = rowsOf(name);
      if (field !== undefined) mine.set(key, { ...(mine.get(key) ?? { id: key }), [field]: part });
    } else if (isGroup(name)) next[name] = { ...(next[name] as object), [key]: part };
    else if (name !== "title") next[name] = part;
  }
  for (const [name, mine] of rows) {
    const order = (some[name] as string[] | undefined) ?? (next[name] as Row[]).map((row) => row.id);
    next[name] = order.map((id) => mine.get(id) ?? { id });
  }
  return next as PieceDocument;
}

/** The parts of `after` that differ from those of `before`. What is gone is missing from the list of its kind. */
export function changes(before: Titled, after: Titled): Parts {
  const some: Parts = {};
  if (before.document !== after.document) {
    const was = partsOf(before.document);
    for (const [path, part] of Object.entries(partsOf(after.document)))
      if (!(path in was && equal(was[path], part))) some[path] = part;
  }
  if (before.title !== after.title) some.title = after.title;
  return some;
}

/** A title and a document with these parts instead. */
export function withParts<T extends Titled>(held: T, some: Parts): T {
  if (Object.keys(some).length === 0) return held;
  const title = typeof some.title === "string" ? some.title : held.title;
  return { ...held, title, document: changed(held.document, some) };
}

/**
 * What these parts were before, and everything about things that they change or take out: enough to merge them later,
 * and to bring back whole what somebody else takes out meanwhile.
 */
export function partsBefore(before: Titled, some: Parts): Parts {
  const all = partsOf(before.document);
  const was: Parts = "title" in some ? { title: before.title } : {};
  const touched = new Set(Object.keys(some).map(thingOf));
  for (const name of LISTS) {
    const left = some[name] as string[] | undefined;
    for (const id of left ? (all[name] as string[]).filter((key) => !left.includes(key)) : [])
      touched.add(`${name}/${id}`);
  }
  for (const path of Object.keys(all)) if (touched.has(thingOf(path))) was[path] = all[path];
  return was;
}

/** Such as `spots/spot-1`, of which a part says something; the path itself where that is no thing with an id. */
const thingOf = (path: string): string => {
  const [name = "", id, field] = path.split("/");
  return isList(name) && field !== undefined ? `${name}/${id}` : path;
};

/** Only what is said of things, not which of them there are. */
export const withoutLists = (parts: Parts): Parts =>
  Object.fromEntries(Object.entries(parts).filter(([path]) => !isList(path)));

export type Merge = { parts: Parts; collisions: string[] };

/**
 * My changes (`some`, from what they `was` before) upon another state.
 *
 * Where both changed the same part to something else, or one changed what the other took out, they collide; mine is in
 * `parts` all the same.
 */
export function merge(some: Parts, was: Parts, theirs: Titled): Merge {
  const now: Parts = { ...partsOf(theirs.document), title: theirs.title };
  const parts: Parts = {};
  const collisions: string[] = [];
  // What is in a list comes before what is said of it, in whatever order it was done: that may bring things back.
  for (const name of LISTS) {
    if (!(name in some)) continue;
    const merged = mergedOrder(name, some[name] as string[], was, now, collisions);
    if (!equal(merged, now[name])) parts[name] = merged;
  }
  for (const [path, mine] of Object.entries(some)) {
    const [name = "", id = "", field] = path.split("/");
    if ((isList(name) && field === undefined) || equal(now[path], mine)) continue;
    const takenOut = isList(name) && path in was && !(now[name] as string[]).includes(id);
    if (takenOut || (path in was && !equal(now[path], was[path]))) collisions.push(path);
    parts[path] = mine;
    if (takenOut) {
      // Nothing is left of it there: it comes back whole, as far as it is known here.
      parts[name] = [...((parts[name] ?? now[name]) as string[]).filter((key) => key !== id), id];
      for (const [other, part] of Object.entries(was))
        if (other.startsWith(`${name}/${id}/`) && !(other in parts)) parts[other] = part;
    }
  }
  return { parts, collisions };
}

function mergedOrder(name: string, mine: string[], was: Parts, now: Parts, collisions: string[]): string[] {
  const [before, theirs] = [(was[name] ?? []) as string[], now[name] as string[]];
  const gone = before.filter((id) => !mine.includes(id) && theirs.includes(id));
  for (const id of gone) {
    const prefix = `${name}/${id}/`;
    const touched = Object.keys(now).filter(
      (path) => path.startsWith(prefix) && path in was && !equal(now[path], was[path]),
    );
    if (touched.length > 0) collisions.push(`${name}/${id}`);
  }
  const both = mine.filter((id) => before.includes(id) && theirs.includes(id));
  const kept = theirs.filter((id) => !gone.includes(id));
  // My order of what both have, in the places where they stand there.
  let next = 0;
  const ordered = kept.map((id) => (both.includes(id) ? (both[next++] ?? id) : id));
  const added = mine.filter((id) => !before.includes(id) && !theirs.includes(id));
  return [...ordered, ...added];
}

const NAMES: Record<string, string> = {
  title: "the title",
  setup: "the set-up",
  format: "the sheet",
  tray: "the tray",
  picture: "the picture",
  balance: "the balance",
  light: "the light",
  grid: "the grid",
  cross: "the cross",
  unit: "the unit",
  marks: "a measure",
  no_faces: "what is no face",
};

/** What of a thing with an id was changed, in front of its name. */
const FIELDS: Record<string, string> = {
  recipe: "the recipe of ",
  name: "the name of ",
  role: "the role of ",
  place: "the place of ",
  figure: "the figure of ",
  x: "where it lies: ",
  y: "where it lies: ",
  radius: "the size of ",
  outline: "the outline of ",
  locked: "the lock of ",
  face: "the face of ",
  strokes: "the skin of ",
  stick: "what is taken in a layer of ",
  levels: "where and how hard the layer lies of ",
  technique: "the stroke of the layer of ",
};

/** In a few words what lies between two states, such as “the recipe of brow”. */
export function inWords(before: Titled, after: Titled): string {
  const some = changes(before, after);
  const said = new Set<string>();
  for (const path of Object.keys(some)) {
    const [name = "", id = "", field] = path.split("/");
    if (!isList(name)) said.add(NAMES[name] ?? name);
    else if (field === undefined) said.add(inOrOut(name, before.document, after.document));
    else if (name === "marks") said.add(NAMES.marks ?? "");
    else if (before.document[name].some((row) => row.id === id))
      said.add(`${FIELDS[field] ?? ""}${calledIn(before, name, id) ?? id}`);
  }
  const words = [...said];
  return words.length > 3 ? `${words.slice(0, 2).join(", ")} and ${words.length - 2} more` : words.join(", ");
}

function calledIn(held: Titled, name: (typeof LISTS)[number], id: string): string | undefined {
  const row = (held.document[name] as { id: string; name?: string; stick?: string }[]).find(
    (row) => row.id === id,
  );
  return row?.name ?? row?.stick;
}

function inOrOut(name: (typeof LISTS)[number], before: PieceDocument, after: PieceDocument): string {
  const more = after[name].length - before[name].length;
  const word = name === "surroundings" ? "neighbour" : name.slice(0, -1);
  if (more === 0) return `the order of the ${name}`;
  const count = Math.abs(more);
  return `${count} ${word}${count === 1 ? "" : "s"} ${more > 0 ? "put in" : "taken out"}`;
}

export type Difference = { name: string; mine: string; theirs: string };

const MOST_SHOWN = 6;

/** Where two states differ, each in a few words: enough to tell which is which. */
export function differences(mine: Titled, theirs: Titled): Difference[] {
  const rows = new Map<string, Difference>();
  const [here, there] = [partsOf(mine.document), partsOf(theirs.document)];
  for (const path of Object.keys({ ...changes(theirs, mine), ...changes(mine, theirs) })) {
    const [name = "", id = "", field] = path.split("/");
    if (path === "title") rows.set(path, { name: "the title", mine: mine.title, theirs: theirs.title });
    else if (isList(name) && field === undefined)
      rows.set(path, { name, mine: `${(here[path] as []).length}`, theirs: `${(there[path] as []).length}` });
    else {
      const of = isList(name) ? numbered(theirs, mine, name, id) : (NAMES[name] ?? name);
      rows.set(path, {
        name: field || isGroup(name) ? `${(field ?? id).replaceAll("_", " ")} of ${of}` : of,
        mine: shortly(here[path]),
        theirs: shortly(there[path]),
      });
    }
  }
  return [...rows.values()].slice(0, MOST_SHOWN);
}

/** Such as “spot 3”: its name may be what differs. */
function numbered(theirs: Titled, mine: Titled, name: (typeof LISTS)[number], id: string): string {
  const at = (held: Titled) => (held.document[name] as Row[]).findIndex((row) => row.id === id);
  const index = at(theirs) >= 0 ? at(theirs) : at(mine);
  return `${name === "surroundings" ? "neighbour" : name.slice(0, -1)} ${index + 1}`;
}

function shortly(part: unknown): string {
  if (part === undefined) return "not there";
  if (part === null) return "none";
  if (typeof part === "number") return String(Math.round(part * 1000) / 1000);
  if (typeof part === "boolean") return part ? "yes" : "no";
  if (typeof part === "string") return part;
  const passes = (part as { passes?: { stick: string }[] }).passes;
  if (passes) return passes.map((pass) => pass.stick).join(" · ") || "bare paper";
  if (Array.isArray(part)) return `${part.length}`;
  return "another one";
}
