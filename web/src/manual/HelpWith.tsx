import { useState } from "react";
import { Button, Modal } from "react-bootstrap";
import { Link } from "react-router";
import { useElsewhere } from "../shell/useElsewhere";
import { addressOf, pageOf } from "./manual";
import { PageText } from "./PageText";

/** A button that opens a page of the manual where it is needed; nothing where there is no such page. */
export function HelpWith({ id }: { id: string }) {
  const [open, setOpen] = useState(false);
  useElsewhere(() => setOpen(false));
  const page = pageOf(id);
  if (!page) return null;
  return (
    <>
      <Button
        size="sm"
        variant="plain"
        aria-label={`What is this? ${page.title}`}
        onClick={() => setOpen(true)}
      >
        What is this?
      </Button>
      {open && (
        <Modal show onHide={() => setOpen(false)} aria-labelledby="page-title" scrollable>
          <Modal.Header closeButton>
            <Modal.Title id="page-title" as="h2">
              {page.title}
            </Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <PageText page={page} />
            <Link to={addressOf(page.id)}>Open the manual here</Link>
          </Modal.Body>
        </Modal>
      )}
    </>
  );
}
