import type { SceneTold, Schemas } from "../../api/client";
import { Segments } from "../../ui/Segments";
import { Strokes } from "../../ui/Strokes";
import { useNoun } from "../../ui/useNoun";

type Props = {
  jobs: SceneTold["jobs"];
  atHand: Schemas["AtHand"] | undefined;
  steps: number;
  onSteps: (steps: number) => void;
};

const WORDS = ["No", "One job", "Two jobs", "Three jobs", "Four jobs", "Five jobs", "Six jobs", "Seven jobs"];

/** What sticks have to do, how much of the skin each job is, and which of one's own does it. */
export function Jobs({ jobs, atHand, steps, onSteps }: Props) {
  const sticks = atHand?.sticks ?? [];
  const noun = useNoun([], atHand?.medium);
  const family = sticks.filter((stick) => stick.of_family).length;
  return (
    <section className="jobs" aria-label="Jobs">
      <p>
        {WORDS[jobs.length] ?? jobs.length}. The width is the share of what shows
        {sticks.length > 0 && `; ${noun}s of one family do ${family}`}.{" "}
        <Segments
          label="Steps from light to shade"
          choices={[2, 3, 4, 5]}
          chosen={steps}
          onChoose={onSteps}
        />{" "}
        steps
      </p>
      <ul>
        {jobs.map((job, i) => {
          const stick = sticks[i];
          return (
            <li key={job.name} style={{ flexGrow: 0.25 + job.share }}>
              <Strokes hex={job.colour.hex} pressure="heavy" medium={atHand?.medium ?? "pencil"} />
              <b>{job.name}</b>
              <span>{stick ? `${stick.code} ${stick.name}` : `${(100 * job.share).toFixed(0)} %`}</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
