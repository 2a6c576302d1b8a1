import { useQueryClient } from "@tanstack/react-query";
import { Button } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";

/** The page of a one-time link. Only its button spends it: mail scanners and prefetches open links too. */
export function EnterPage() {
  const { token = "" } = useParams();
  const queries = useQueryClient();
  const go = useNavigate();
  const enter = useWrite(server.enter, [], () => {
    queries.clear();
    void go("/", { replace: true });
  });
  const problem = problemOf(enter.error, "");
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
          <Button variant="act" autoFocus disabled={!enter.isIdle} onClick={() => enter.mutate(token)}>
            Sign in
          </Button>
        </>
      )}
    </main>
  );
}
