import { tip } from "../tip";
/** A moment in the time of whoever looks, with the zone in the tooltip. */
export function When({ at }: { at: string | number }) {
  const moment = new Date(at);
  return (
    <time
      className="num quiet"
      dateTime={moment.toISOString()}
      {...tip(moment.toLocaleString("en-GB", { timeZoneName: "long" }))}
    >
      {moment.toLocaleString("sv").slice(0, 16)}
    </time>
  );
}
