import { Link } from "react-router";
import { Head } from "./Head";

export function Nowhere() {
  return (
    <>
      <Head />
      <main className="page" id="main">
        <div className="notice" role="alert">
          <span>There is no page at this address.</span>
          <Link to="/">All projects</Link>
        </div>
      </main>
    </>
  );
}
