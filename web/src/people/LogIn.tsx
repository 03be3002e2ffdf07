import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { failureText } from "../notices/notices";
import { useOnce } from "../writes/useOnce";
import { Credential, NotTaken } from "./Credential";
import { logIn } from "./session";

/** Name and password. */
export function LogIn() {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState<string>();
  const { run, pending } = useOnce(async () => {
    setWrong(undefined);
    try {
      await logIn(client, name.trim(), password);
    } catch (error) {
      setPassword("");
      setWrong(failureText(error));
    }
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void run();
  };
  return (
    <Form onSubmit={submit} aria-label="Log in">
      <Credential autoFocus label="Name" kind="username" value={name} onText={setName} />
      <Credential label="Password" kind="current-password" value={password} onText={setPassword} />
      <NotTaken why={wrong} />
      <Button type="submit" variant="ink" disabled={pending}>
        Log in
      </Button>
    </Form>
  );
}
