import monoLicence from "@fontsource/ibm-plex-mono/LICENSE?raw";
import sansLicence from "@fontsource/instrument-sans/LICENSE?raw";
import { useQuery } from "@tanstack/react-query";
import { Table } from "react-bootstrap";
import { aboutQuery } from "../../api/queries";
import type { components } from "../../api/schema";
import { Head } from "../../shell/Head";
import { ScreenHead } from "../../shell/ScreenHead";
import licences from "./licences.json";

type About = components["schemas"]["About"];

/** Where things are kept, and the copies that were made before an update. */
function Keeping({ about }: { about: About }) {
  return (
    <dl className="keeping">
      <dt>version</dt>
      <dd className="num">{about.version}</dd>
      <dt>data file</dt>
      <dd className="num">{about.data_file}</dd>
      <dt>{about.backups.length === 1 ? "copy made before an update" : "copies made before updates"}</dt>
      <dd className="num">{about.backups.length > 0 ? about.backups.join(", ") : "none"}</dd>
      <dt>daily copies</dt>
      <dd className="num">{about.copies.length > 0 ? about.copies.join(", ") : "none"}</dd>
    </dl>
  );
}

/** What ships with the program, under which licences, and where it keeps things. */
export default function AboutScreen() {
  const { data: about } = useQuery(aboutQuery);
  return (
    <>
      <Head />
      <main className="page" id="main">
        <ScreenHead title="About" note="Ratiomet plans frame geometry conversions." />
        {about && <Keeping about={about} />}
        <div className="two-sheets">
          <section className="sheet">
            <div className="sheet-head">
              <h2>Packages</h2>
              <small>{licences.length}</small>
              <a className="end" href="/licences.txt">
                All licences in full
              </a>
            </div>
            {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by key */}
            <section className="scroll" tabIndex={0} aria-label="Packages">
              <Table className="register">
                <thead>
                  <tr>
                    <th className="ps-3">name</th>
                    <th>version</th>
                    <th>licence</th>
                  </tr>
                </thead>
                <tbody>
                  {licences.map(({ name, version, licence }) => (
                    <tr key={`${name} ${version}`}>
                      <td className="ps-3">{name}</td>
                      <td className="num">{version}</td>
                      <td>{licence}</td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </section>
          </section>
          <section className="sheet">
            <div className="sheet-head">
              <h2>Fonts</h2>
              <small>Instrument Sans, IBM Plex Mono</small>
            </div>
            {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by key */}
            <section className="scroll px-3" tabIndex={0} aria-label="Font licences">
              <pre className="small licence">{sansLicence}</pre>
              <pre className="small licence">{monoLicence}</pre>
            </section>
          </section>
        </div>
      </main>
    </>
  );
}
