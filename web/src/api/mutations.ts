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

/** What is said of a write that was refused; empty if it was not. */
export const problemOf = (error: Error | null): string =>
  error ? (error instanceof Refusal ? `${error.message} Nothing was changed.` : String(error)) : "";
