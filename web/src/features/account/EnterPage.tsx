import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { Refusal, server } from "../../api/client";

/** The page of a one-time link. Only its button spends it: mail scanners and prefetches open links too. */
export function EnterPage() {
  const { token = "" } = useParams();
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const queries = useQueryClient();
  const go = useNavigate();
  const enter = async () => {
    setBusy(true);
    try {
      await server.enter(token);
      queries.clear();
      void go("/", { replace: true });
    } catch (error) {
      setProblem(error instanceof Refusal ? error.message : String(error));
      setBusy(false);
    }
  };
  return (
    <main className="sign-in">
      <h1>Caltin</h1>
      <p>Skin colour, planned before the paper is touched.</p>
      {problem ? (
        <>
          <p className="problem" role="alert">
            {problem}
          </p>
          <Link to="/sign-in">Sign in with name and password</Link>
        </>
      ) : (
        <>
          <p>This link signs you in once, in this browser.</p>
          <Button variant="act" autoFocus disabled={busy} onClick={() => void enter()}>
            Sign in
          </Button>
        </>
      )}
    </main>
  );
}
