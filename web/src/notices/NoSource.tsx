import { Link } from "react-router";
import { Notice } from "./Notice";

/** Where a source was asked for that is not there any more. */
export function NoSource({ footage }: { footage: string }) {
  return (
    <main className="page" id="main">
      <Notice role="alert">
        <span>This source no longer exists: it was deleted.</span>
        <Link to={footage}>Back to the footage</Link>
      </Notice>
    </main>
  );
}
