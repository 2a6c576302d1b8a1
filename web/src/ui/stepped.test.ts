import { expect, test } from "vitest";
import { stepped } from "./stepped";

const at = (id: string, x: number, y: number) => ({ id, x, y });
const FACE = [at("brow", 0.5, 0.2), at("left", 0.3, 0.5), at("right", 0.7, 0.5), at("chin", 0.5, 0.8)];
const from = (id: string) => FACE.find((spot) => spot.id === id) as (typeof FACE)[number];

test("an arrow takes the spot that lies that way, straight before aside", () => {
  expect(stepped(FACE, from("left"), [1, 0], 1)?.id).toBe("right");
  expect(stepped(FACE, from("chin"), [0, -1], 1)?.id).toBe("brow");
  expect(stepped(FACE, from("brow"), [-1, 0], 1)?.id).toBe("left");
});

test("at the edge there is none, and a spot on the same place is not stepped to", () => {
  expect(stepped(FACE, from("brow"), [0, -1], 1)).toBeNull();
  expect(stepped([...FACE, at("twice", 0.7, 0.5)], from("right"), [1, 0], 1)).toBeNull();
});

test("how far is judged as it is seen: a wide picture's sides are farther off", () => {
  const two = [at("here", 0.5, 0.5), at("aside", 0.6, 0.48), at("over", 0.52, 0.1)];
  const [here] = two as [(typeof two)[number]];
  expect(stepped(two, here, [0, -1], 1)?.id).toBe("aside");
  expect(stepped(two, here, [0, -1], 4)?.id).toBe("over");
});
