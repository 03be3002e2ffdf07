import { Link } from "react-router";
import { Notice } from "../notices/Notice";
import { Head } from "./Head";
import { ScreenHead } from "./ScreenHead";

export function Nowhere() {
  return (
    <>
      <Head />
      <main className="page" id="main">
        <ScreenHead title="Not found" />
        <Notice role="alert">
          <span>There is no page at this address.</span>
          <Link to="/">All projects</Link>
        </Notice>
      </main>
    </>
  );
}
