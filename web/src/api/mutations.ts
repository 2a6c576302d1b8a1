import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Refusal } from "./client";

/** A write. stale: the first keys of what is asked for again once it is done; done: what else happens then. */
export function useWrite<Given, Made>(
  write: (given: Given) => Promise<Made>,
  stale: string[] = [],
  done: (made: Made) => void = () => {},
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: write,
    onSuccess: async (made) => {
      done(made);
      await Promise.all(stale.map((key) => queries.invalidateQueries({ queryKey: [key] })));
    },
  });
}

/** What is said of something that was refused; empty if it was not. kept: what is said to be as it was. */
export function problemOf(error: Error | null, kept = "Nothing was changed."): string {
  if (!(error instanceof Refusal)) return error ? String(error) : "";
  return `${error.message} ${kept}`.trim();
}
