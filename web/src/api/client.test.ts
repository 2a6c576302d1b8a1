import { afterEach, describe, expect, test, vi } from "vitest";
import { hasFailed, Refusal, take } from "./client";
import { sized } from "./pictures";

const response = (status: number) => new Response(null, { status });
const done = <T>(data: T) => ({ data, response: response(200) });
const underway = (done_: number, total: number) => ({ underway: { job: "j", done: done_, total } });

afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

/** Outside of a browser an address alone says nothing of the server. */
class Here extends Request {
  constructor(address: string | URL, init?: RequestInit) {
    super(new URL(address, "http://here"), init);
  }
}

/** `take` on a wire where the job is so far each time it is asked after. */
async function takeWhile(...steps: [number, number][]): Promise<typeof take> {
  const asked: string[] = [];
  vi.stubGlobal("document", { cookie: "" });
  vi.stubGlobal("Request", Here);
  vi.stubGlobal("fetch", async (request: Request) => {
    asked.push(`${request.method} ${request.url}`);
    const [done_, total] = steps[Math.min(asked.length, steps.length) - 1] ?? [1, 1];
    return Response.json({ id: "j", done: done_, total });
  });
  vi.resetModules();
  return (await import("./client")).take;
}

describe("what the server answers", () => {
  test("is taken as it is when it is there at once", async () => {
    expect(await take(async () => done({ sticks: 3 }))).toEqual({ sticks: 3 });
  });
  test("is a refusal with its reasons and their hints otherwise", async () => {
    const problem = { code: "no_spots", message: "There is no spot.", hint: "Set one.", field: "spots" };
    const refused = take(async () => ({ error: { errors: [problem] }, response: response(422) }));
    await expect(refused).rejects.toMatchObject({ status: 422, message: "There is no spot. Set one." });
  });
  test("says what is kept where it does not come at all", async () => {
    const away = take(async () => {
      throw new TypeError("network");
    });
    await expect(away).rejects.toMatchObject({ status: 0, problems: [{ code: "unreachable" }] });
    const broken = take(async () => ({ response: response(500) }));
    await expect(broken).rejects.toThrow("The server could not do that.");
  });
  test("brings the piece as it is now where somebody else was faster", async () => {
    const current = { id: "p", version: 7 };
    const stale = take(async () => ({ error: { errors: [], current }, response: response(409) }));
    await expect(stale).rejects.toMatchObject({ status: 409, current });
  });
});

describe("what takes a while", () => {
  test.each(["data", "text"])("is asked for again once its job is done, also as %s", async (kind) => {
    const taking = await takeWhile([1, 4], [4, 4]);
    let times = 0;
    const seen: number[] = [];
    const said = underway(0, 4);
    const answer = await taking(
      async () => {
        times += 1;
        if (times > 1) return done("<svg/>");
        return { data: kind === "text" ? JSON.stringify(said) : said, response: response(202) };
      },
      (work) => seen.push(work.done),
    );
    expect(answer).toBe("<svg/>");
    expect(times).toBe(2);
    expect(seen).toEqual([0, 1]);
  });
  test("is given up where somebody says so", async () => {
    const taking = await takeWhile([1, 9]);
    const given = taking(
      async () => ({ data: underway(0, 9), response: response(202) }),
      (work) => work.stop(),
    );
    await expect(given).rejects.toMatchObject({ status: 410, problems: [{ code: "stopped" }] });
  });
  test("is not taken for something else that happens to be text", async () => {
    expect(await take(async () => done('{"underway": 1}'))).toBe('{"underway": 1}');
  });
});

describe("failing and refusing", () => {
  test("are told apart: only what failed is worth another go", () => {
    expect(hasFailed(new Refusal(0, []))).toBe(true);
    expect(hasFailed(new Refusal(503, []))).toBe(true);
    expect(hasFailed(new TypeError("script"))).toBe(true);
    expect(hasFailed(new Refusal(404, []))).toBe(false);
    expect(hasFailed(new Refusal(422, []))).toBe(false);
    expect(hasFailed(null)).toBe(false);
    expect(hasFailed(undefined)).toBe(false);
  });
});

describe("the size that a picture is asked for with", () => {
  test("is the next that there is, and finer on fine screens", () => {
    vi.stubGlobal("window", { devicePixelRatio: 1 });
    expect(sized("/a", 500)).toBe("/a?size=600");
    expect(sized("/a?key=1", 601)).toBe("/a?key=1&size=750");
    expect(sized("/a", 9000)).toBe("/a?size=1800");
    vi.stubGlobal("window", { devicePixelRatio: 2 });
    expect(sized("/a", 500)).toBe("/a?size=1200");
  });
});
