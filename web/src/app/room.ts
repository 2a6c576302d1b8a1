import { useEffect, useState } from "react";

export const ROOMS = ["mid grey", "light grey", "dark grey"] as const;
export type Room = (typeof ROOMS)[number];

const KEY = "caltin.room";

function held(): Room {
  const found = localStorage.getItem(KEY);
  return ROOMS.find((room) => room === found) ?? "mid grey";
}

/** The surround in which colours are judged; kept for next time. */
export function useRoom(): [Room, () => void] {
  const [room, setRoom] = useState<Room>(held);
  useEffect(() => {
    document.documentElement.dataset.room = room.split(" ")[0];
    localStorage.setItem(KEY, room);
  }, [room]);
  return [room, () => setRoom((now) => ROOMS[(ROOMS.indexOf(now) + 1) % ROOMS.length] ?? "mid grey")];
}
