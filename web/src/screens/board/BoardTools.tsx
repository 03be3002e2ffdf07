import { Button, ButtonGroup, Form } from "react-bootstrap";
import { Link, useParams } from "react-router";
import { PicturesButton } from "../../drawing/PicturesButton";
import { Key, keysOf } from "../../keys/Key";
import { tip } from "../../tip";
import { type Filters, GROUPINGS, type Grouping, SORTS, type Sort } from "./arrange";
import type { View } from "./Cell";

interface Props {
  /** Whether any framing was imported. */
  imported: boolean;
  filters: Filters;
  sort: Sort;
  grouping: Grouping;
  view: View;
  onFilters: (part: Partial<Filters>) => void;
  onSort: (sort: Sort) => void;
  onGrouping: (grouping: Grouping) => void;
  onView: (view: View) => void;
}

/** What is shown of the board, and in which order. */
export function BoardTools({
  imported,
  filters,
  sort,
  grouping,
  view,
  onFilters,
  onSort,
  onGrouping,
  onView,
}: Props) {
  const { project } = useParams();
  const tick = (name: "notClean" | "enlarged" | "byHand" | "moved", label: string) => (
    <Form.Check
      id={`only-${name}`}
      label={label}
      checked={filters[name]}
      onChange={(event) => onFilters({ [name]: event.target.checked })}
    />
  );
  const wrong = filters.cutOver.trim() !== "" && !/^\d{1,3}(\.\d+)?\s*%?$/.test(filters.cutOver.trim());
  return (
    <fieldset className="board-tools" aria-label="Filter and order">
      <Form.Control
        type="search"
        size="sm"
        className="filter"
        aria-label="Filter sources"
        placeholder="Filter"
        value={filters.words}
        onChange={(event) => onFilters({ words: event.target.value })}
      />
      {tick("notClean", "not clean")}
      {tick("enlarged", "enlarged")}
      {tick("byHand", "set by hand")}
      {(imported || filters.moved) && tick("moved", "not as imported")}
      <label className="cut-over">
        cut more than
        <input
          className="num"
          inputMode="decimal"
          aria-invalid={wrong || undefined}
          {...tip(
            wrong
              ? "Must be a percentage from 0 to 100, such as 5"
              : "percent of the picture; leave empty for any",
          )}
          value={filters.cutOver}
          placeholder="any"
          onChange={(event) => onFilters({ cutOver: event.target.value })}
        />
        %
      </label>
      <Form.Select
        size="sm"
        aria-label="Order"
        value={sort}
        onChange={(event) => onSort(event.target.value as Sort)}
      >
        {SORTS.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Form.Select>
      <Form.Select
        size="sm"
        aria-label="Grouping"
        value={grouping}
        onChange={(event) => onGrouping(event.target.value as Grouping)}
      >
        {GROUPINGS.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Form.Select>
      <span className="ms-auto">
        <PicturesButton small />{" "}
        <Link
          className="btn btn-sm"
          to={`/projects/${project}/board/proof`}
          {...tip("Carry every conversion out on a chart, and measure whether it comes out as planned")}
        >
          Prove all
        </Link>
      </span>
      <ButtonGroup size="sm" aria-label="Cells show">
        <Button active={view === "frames"} aria-pressed={view === "frames"} onClick={() => onView("frames")}>
          Frames
        </Button>
        <Button
          active={view === "rates"}
          aria-pressed={view === "rates"}
          {...keysOf("rates")}
          onClick={() => onView("rates")}
        >
          Rates <Key of="rates" />
        </Button>
      </ButtonGroup>
    </fieldset>
  );
}
