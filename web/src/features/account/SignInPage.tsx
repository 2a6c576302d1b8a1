import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import { server } from "../../api/client";

export function SignInPage() {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const queries = useQueryClient();
  const go = useNavigate();
  const signing = useMutation({
    mutationFn: () => server.signIn(name, password),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go("/");
    },
  });
  const send = (event: React.FormEvent) => {
    event.preventDefault();
    signing.mutate();
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
        {signing.error && (
          <p className="problem" role="alert">
            {signing.error.message}
          </p>
        )}
        <Button variant="act" type="submit" disabled={!name || !password || signing.isPending}>
          Sign in
        </Button>
      </Form>
    </main>
  );
}
