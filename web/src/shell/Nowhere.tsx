import { Link } from "react-router";
import { Head } from "./Head";

export function Nowhere() {
  return (
    <>
      <Head />
      <main className="page">
        <div className="notice" role="alert">
          <span>There is no page at this address.</span>
          <Link to="/">Go to the projects</Link>
        </div>
      </main>
    </>
  );
}
