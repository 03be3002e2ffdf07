/** The block in the corner of an engineering sheet: what this is a drawing of. */
export function TitleBlock({ entries }: { entries: [string, string][] }) {
  return (
    <div className="title-block">
      {entries.map(([name, value]) => (
        <div key={name}>
          <small>{name}</small>
          {value}
        </div>
      ))}
    </div>
  );
}
