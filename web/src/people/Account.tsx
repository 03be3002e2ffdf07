import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { Link } from "react-router";
import { api, Refused, settled } from "../api/client";
import { failureText, useNotices } from "../notices/notices";
import { tip } from "../tip";
import { useOnce } from "../writes/useOnce";
import { Credential, NotTaken } from "./Credential";
import { logOut, ROLES, type Session } from "./session";

interface Given {
  name: string;
  role: Session["role"];
}

/** Who is logged in, with the way out. */
export function Account({ name, role }: Given) {
  const [open, setOpen] = useState(false);
  const may = ROLES[role ?? "look"];
  return (
    <>
      <Button
        variant="plain"
        className="account"
        onClick={() => setOpen(true)}
        {...tip(`${name}, logged in; ${may}`)}
      >
        {name}
      </Button>
      {open && <AccountSheet name={name} may={may} onHide={() => setOpen(false)} />}
    </>
  );
}

interface Props {
  name: string;
  /** What is allowed, in words. */
  may: string;
  onHide: () => void;
}

function AccountSheet({ name, may, onHide }: Props) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const [current, setCurrent] = useState("");
  const [next, setNext] = useState("");
  const [wrong, setWrong] = useState<string>();
  const { run: change, pending } = useOnce(async () => {
    setWrong(undefined);
    try {
      await settled(api.PUT("/api/v1/session/password", { body: { current, new: next } }));
      tell("Password changed. Your other sessions have ended.");
      onHide();
    } catch (error) {
      const field = error instanceof Refused ? error.problem.errors?.[0]?.detail : undefined;
      setWrong(field ?? failureText(error));
    }
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void change();
  };
  const leave = () => logOut(client).catch((error) => tellFailure("Still logged in", error));
  return (
    <Modal show onHide={onHide} aria-labelledby="account-title">
      <Modal.Header closeButton>
        <Modal.Title id="account-title" as="h2">
          {name}
        </Modal.Title>
        <Button size="sm" className="ms-3" onClick={leave}>
          Log out
        </Button>
      </Modal.Header>
      <Modal.Body>
        <p>
          Logged in; {may}. <Link to="/about">About Ratiomet</Link>
        </p>
        <Form onSubmit={submit}>
          <h3 className="h6">Change password</h3>
          <input type="text" autoComplete="username" value={name} readOnly hidden />
          <Credential label="Current password" kind="current-password" value={current} onText={setCurrent} />
          <Credential
            label="New password, 12 characters or more"
            kind="new-password"
            value={next}
            onText={setNext}
          />
          <NotTaken why={wrong} />
          <Button type="submit" disabled={pending}>
            Change password
          </Button>
        </Form>
      </Modal.Body>
    </Modal>
  );
}
