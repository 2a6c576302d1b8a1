import { useQuery } from "@tanstack/react-query";
import { http, type Schemas, take } from "./client";

export type Standing = Schemas["Standing"];
export type PracticeRound = Schemas["PracticeRound"];
export type Question = Schemas["QuestionShown"];
export type Curve = Schemas["CurveShown"];
export type PracticeKind = Question["kind"];
export type PracticeSource = Standing["sources"][number];

const at = (round_id: string, number: number) => ({ params: { path: { round_id, number } } });

/** What is asked about practice. */
export const practice = {
  begin: (body: Schemas["AskRoundRequest"]) => take(() => http.POST("/api/practice/rounds", { body })),
  answer: (round: string, number: number, guess: number) =>
    take(() =>
      http.PUT("/api/practice/rounds/{round_id}/answers/{number}", { ...at(round, number), body: { guess } }),
    ),
  takeBack: (round: string, number: number) =>
    take(() => http.DELETE("/api/practice/rounds/{round_id}/answers/{number}", at(round, number))),
  ramp: (body: Schemas["AskRampRequest"]) => take(() => http.POST("/api/practice/ramps", { body })),
  forget: () => take(() => http.DELETE("/api/practice")),
};

export const useStanding = () =>
  useQuery({
    queryKey: ["practice"],
    queryFn: () => take(() => http.GET("/api/practice")),
    refetchOnMount: "always",
  });

export const useRound = (round_id: string | null) =>
  useQuery({
    queryKey: ["round", round_id],
    queryFn: () =>
      take(() =>
        http.GET("/api/practice/rounds/{round_id}", { params: { path: { round_id: round_id ?? "" } } }),
      ),
    enabled: round_id !== null,
    retry: false,
  });

/** The address of what a question is about, where it is. */
export const practisedUrl = (round: string, number: number): string =>
  `/api/practice/rounds/${round}/pictures/${number}`;
