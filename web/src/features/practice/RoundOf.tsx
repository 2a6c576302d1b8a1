import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { problemOf, useWrite } from "../../api/mutations";
import { type PracticeRound, practice, practisedUrl, type Question, useRound } from "../../api/practice";
import { useMaterials } from "../../api/queries";
import { Slider } from "../../ui/Slider";
import { ASKED, KIND } from "./words";

const MORE_LESS: Partial<Record<Question["kind"], [string, string]>> = {
  hue: ["warmer", "cooler"],
  chroma: ["stronger", "duller"],
};

/** A round: one question after the other, then what it showed. */
export function RoundOf({ id, onDone, onNext }: { id: string; onDone: () => void; onNext: () => void }) {
  const round = useRound(id);
  const queries = useQueryClient();
  const [at, setAt] = useState<number | null>(null);
  const put = (row: Question) =>
    queries.setQueryData<PracticeRound>(["round", id], (held) =>
      held
        ? { ...held, questions: held.questions.map((one) => (one.number === row.number ? row : one)) }
        : held,
    );
  const answer = useWrite(
    ({ number, guess }: { number: number; guess: number }) => practice.answer(id, number, guess),
    ["practice"],
    put,
  );
  const back = useWrite((number: number) => practice.takeBack(id, number), ["practice"], put);
  if (round.error)
    return (
      <main className="practice-round">
        <p className="problem" role="alert">
          {problemOf(round.error, "")}
        </p>
        <Button variant="quiet" onClick={onDone}>
          back to practice
        </Button>
      </main>
    );
  if (!round.data)
    return (
      <main key="wait" className="wait">
        Laying them out …
      </main>
    );
  const questions = round.data.questions;
  const first = questions.findIndex((row) => !row.answer);
  const now = at ?? (first < 0 ? questions.length : first);
  const question = questions[now];
  const error = answer.error ?? back.error;
  if (!question) return <Ended questions={questions} onDone={onDone} onNext={onNext} />;
  return (
    <main className="practice-round">
      <p className="hint">
        {now + 1} of {questions.length}, {KIND[question.kind]}
        <Button variant="quiet" size="sm" onClick={onDone}>
          stop here
        </Button>
      </p>
      <h1>{ASKED[question.kind]}</h1>
      <div className="practice-asked">
        <Patches question={question} />
        {question.pictured && (
          <figure className="practice-where">
            <img
              src={practisedUrl(id, question.number)}
              alt={`Where it is: ${question.place}`}
              width={360}
              height={360}
            />
            <figcaption>{question.place}</figcaption>
          </figure>
        )}
      </div>
      <Guesses
        key={question.number}
        question={question}
        waiting={answer.isPending}
        onGuess={(guess) => {
          setAt(now);
          answer.mutate({ number: question.number, guess });
        }}
      />
      {question.answer && (
        <div className="practice-told">
          <p role="note" className={question.answer.right ? "is-right" : "is-off"}>
            {question.answer.said}
          </p>
          <Button
            variant="quiet"
            disabled={back.isPending}
            onClick={() => {
              setAt(now);
              back.mutate(question.number);
            }}
          >
            that was a slip
          </Button>
          <Button variant="act" className="btn-deed" autoFocus onClick={() => setAt(now + 1)}>
            {now + 1 < questions.length ? "Next" : "See the round"}
          </Button>
        </div>
      )}
      {error && (
        <p className="problem" role="alert">
          {problemOf(error)}
        </p>
      )}
    </main>
  );
}

function Patches({ question }: { question: Question }) {
  const [first, second] = question.hexes;
  if (question.around)
    return (
      <div className="practice-patch" style={{ background: question.around }}>
        <span className="practice-inner" style={{ background: first }} />
      </div>
    );
  const named = question.kind === "layer";
  return (
    <div className="practice-patch">
      {second && (
        <span style={{ background: named ? second : first }}>{named && <small>lies there</small>}</span>
      )}
      <span style={{ background: !second || named ? first : second }}>{named && <small>wanted</small>}</span>
    </div>
  );
}

type GuessesProps = { question: Question; waiting: boolean; onGuess: (guess: number) => void };

function Guesses({ question, waiting, onGuess }: GuessesProps) {
  const given = question.answer;
  const disabled = waiting || given !== null;
  if (question.kind === "value")
    return <ValueGuess question={question} disabled={disabled} onGuess={onGuess} />;
  const words = MORE_LESS[question.kind];
  if (words)
    return (
      <fieldset className="practice-guesses" aria-label="Your guess">
        {[
          { guess: 1, said: words[0] },
          { guess: 0, said: "as good as alike" },
          { guess: -1, said: words[1] },
        ].map(({ guess, said }) => (
          <Button
            key={said}
            variant={given?.guess === guess ? "chosen" : "quiet"}
            aria-pressed={given?.guess === guess}
            disabled={disabled}
            onClick={() => onGuess(guess)}
          >
            {said}
          </Button>
        ))}
      </fieldset>
    );
  return (
    <fieldset className="practice-sticks" aria-label="Your guess">
      {question.choices.map((choice, i) => (
        <button
          key={choice.stick}
          type="button"
          className={given && i === given.truth ? "is-best" : undefined}
          aria-pressed={given?.guess === i}
          disabled={disabled}
          onClick={() => onGuess(i)}
        >
          <span className="practice-swatch" style={{ background: choice.hex }} />
          <b>{choice.stick}</b> {choice.name}
          {choice.how && <small>{choice.how}</small>}
          {given && (
            <small>{i === given.truth ? "nearest" : `off by ${(given.offs[i] ?? 0).toFixed(1)}`}</small>
          )}
        </button>
      ))}
    </fieldset>
  );
}

function ValueGuess({
  question,
  disabled,
  onGuess,
}: {
  question: Question;
  disabled: boolean;
  onGuess: (guess: number) => void;
}) {
  const materials = useMaterials();
  const [guess, setGuess] = useState(question.answer?.guess ?? 5);
  const greys = materials.data?.value_greys ?? [];
  return (
    <div className="practice-value">
      <div className="practice-greys" aria-hidden="true">
        {greys.map((hex, i) => (
          <span key={hex} style={{ background: hex }}>
            <small>{i}</small>
          </span>
        ))}
      </div>
      <Slider
        label={`Value ${guess.toFixed(1)}`}
        value={guess}
        low={0}
        high={10}
        step={0.5}
        onSet={(to) => !disabled && setGuess(to)}
      />
      {!question.answer && (
        <Button variant="act" className="btn-deed" disabled={disabled} onClick={() => onGuess(guess)}>
          It is {guess.toFixed(1)}
        </Button>
      )}
    </div>
  );
}

function Ended({
  questions,
  onDone,
  onNext,
}: {
  questions: Question[];
  onDone: () => void;
  onNext: () => void;
}) {
  const right = questions.filter((row) => row.answer?.right).length;
  return (
    <main className="practice-round">
      <h1>
        {right} of {questions.length} right
      </h1>
      <ol className="practice-ended">
        {questions.map((row) => (
          <li key={row.number}>
            <span className="practice-dots">
              {row.hexes.map((hex) => (
                <span key={hex} className="stick-dot" style={{ background: hex }} />
              ))}
            </span>
            {KIND[row.kind]}, {row.place}: {row.answer?.said ?? "not answered"}
          </li>
        ))}
      </ol>
      <Button variant="quiet" onClick={onNext}>
        another round
      </Button>
      <Button variant="act" className="btn-deed" autoFocus onClick={onDone}>
        Done
      </Button>
    </main>
  );
}
