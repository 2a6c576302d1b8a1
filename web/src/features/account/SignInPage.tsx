import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import { Refusal, server } from "../../api/client";

export function SignInPage() {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState("");
  const queries = useQueryClient();
  const go = useNavigate();
  const send = async (event: React.FormEvent) => {
    event.preventDefault();
    try {
      await server.signIn(name, password);
      await queries.invalidateQueries();
      void go("/");
    } catch (error) {
      setProblem(error instanceof Refusal ? error.message : String(error));
    }
  };
  return (
    <main className="sign-in">
      <h1>Caltin</h1>
      <p>Skin colour, planned before the paper is touched.</p>
      <Form onSubmit={send}>
        <Form.Group controlId="name">
          <Form.Label>Name</Form.Label>
          <Form.Control
            autoComplete="username"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Form.Group>
        <Form.Group controlId="password">
          <Form.Label>Password</Form.Label>
          <Form.Control
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
        </Form.Group>
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        <Button variant="act" type="submit" disabled={!name || !password}>
          Sign in
        </Button>
      </Form>
    </main>
  );
}
