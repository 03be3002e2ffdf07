import { Button, ButtonGroup, Form } from "react-bootstrap";
import { type Filters, GROUPINGS, type Grouping, SORTS, type Sort } from "./arrange";
import type { View } from "./Cell";

interface Props {
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
export function BoardTools({ filters, sort, grouping, view, onFilters, onSort, onGrouping, onView }: Props) {
  const tick = (name: "notClean" | "enlarged" | "byHand", label: string) => (
    <Form.Check
      id={`only-${name}`}
      label={label}
      checked={filters[name]}
      onChange={(event) => onFilters({ [name]: event.target.checked })}
    />
  );
  const wrong = filters.cutOver.trim() !== "" && !/^\d{1,3}(\.\d+)?\s*%?$/.test(filters.cutOver.trim());
  return (
    <div className="board-tools" role="group" aria-label="What is shown">
      <Form.Control
        type="search"
        size="sm"
        className="filter"
        aria-label="Show only sources with these words"
        placeholder="show only …"
        value={filters.words}
        onChange={(event) => onFilters({ words: event.target.value })}
      />
      {tick("notClean", "not clean")}
      {tick("enlarged", "enlarged")}
      {tick("byHand", "set by hand")}
      <label className="cut-over">
        cut more than
        <input
          className="num"
          inputMode="decimal"
          aria-invalid={wrong || undefined}
          title={wrong ? "Accepted: a percentage from 0 to 100" : "percent of the picture; empty for any"}
          value={filters.cutOver}
          placeholder="any"
          onChange={(event) => onFilters({ cutOver: event.target.value })}
        />
        %
      </label>
      <Form.Select
        size="sm"
        aria-label="Order of the rows"
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
        aria-label="Groups of rows"
        value={grouping}
        onChange={(event) => onGrouping(event.target.value as Grouping)}
      >
        {GROUPINGS.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Form.Select>
      <ButtonGroup size="sm" aria-label="What the crossings show" className="ms-auto">
        <Button active={view === "frames"} aria-pressed={view === "frames"} onClick={() => onView("frames")}>
          Frames
        </Button>
        <Button
          active={view === "rates"}
          aria-pressed={view === "rates"}
          aria-keyshortcuts="D"
          onClick={() => onView("rates")}
        >
          Rates <kbd>D</kbd>
        </Button>
      </ButtonGroup>
    </div>
  );
}
