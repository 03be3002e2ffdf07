import { type ReactNode, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { type Problem, Refused } from "../api/client";
import { TitleBlock } from "../drawing/TitleBlock";
import { useNotices } from "../notices/notices";
import { For } from "../people/may";
import { useOnce } from "../writes/useOnce";

interface Removal {
  name: string;
  remove: () => Promise<unknown>;
  /** Brings it back; left out where undo does. */
  restore?: (() => Promise<unknown>) | undefined;
  refresh: () => void;
  onGone?: (() => void) | undefined;
}

/** Deletes something and offers to bring it back. */
export function useRemoval({ name, remove, restore, refresh, onGone }: Removal) {
  const { tell, tellFailure } = useNotices();
  const bringBack = async (restore: () => Promise<unknown>) => {
    try {
      await restore();
    } catch (error) {
      tellFailure("Not restored", error);
    }
    refresh();
  };
  return useOnce(async () => {
    try {
      await remove();
      if (restore) tell(`“${name}” deleted.`, { label: "Undo", run: () => bringBack(restore) });
      onGone?.();
    } catch (error) {
      tellFailure("Not deleted", error);
    }
    refresh();
  }).run;
}

interface SheetProps {
  kind: "source" | "frame";
  name: string;
  project: string;
  /** Whether something is typed that is not stored. */
  typed: boolean;
  onDelete: () => void;
  /** Further buttons at the head. */
  tools?: ReactNode | undefined;
  children: ReactNode;
}

/** The sheet of a stored source or frame, its title block at the foot. */
export function RecordSheet({ kind, name, project, typed, onDelete, tools, children }: SheetProps) {
  return (
    <section className="sheet" aria-label={`The ${kind} ${name}`}>
      <div className="sheet-head">
        <h2>{name}</h2>
        {typed && <small>Enter saves, Esc discards</small>}
        <div className="end d-flex gap-2">
          {tools}
          <For may="plan">
            <Button size="sm" onClick={onDelete}>
              Delete
            </Button>
          </For>
        </div>
      </div>
      {children}
      <TitleBlock
        entries={[
          ["project", project],
          [kind, name],
        ]}
      />
    </section>
  );
}

/** A draft of something that is not stored yet, and adding it. */
export function useNewRecord<D>(blank: D, add: (draft: D) => Promise<void>) {
  const { tellFailure } = useNotices();
  // The form may stand for a moment after its record is there: another Enter makes no second one.
  const added = useRef(false);
  const [draft, setDraft] = useState(blank);
  const [refusal, setRefusal] = useState<Problem>();
  const edit = (part: Partial<D>) => {
    setDraft((now) => ({ ...now, ...part }));
    setRefusal(undefined);
    added.current = false;
  };
  const { run: store, pending } = useOnce(async () => {
    if (added.current) return;
    try {
      await add(draft);
      added.current = true;
    } catch (error) {
      if (error instanceof Refused && error.problem.status === 422) setRefusal(error.problem);
      else tellFailure("Not added", error);
    }
  });
  return { draft, refusal, edit, store, pending };
}

interface AddProps {
  what: string;
  /** Whether it is being added. */
  pending: boolean;
  onCancel?: (() => void) | undefined;
}

/** The buttons at the foot of a new record. */
export function AddOrCancel({ what, pending, onCancel }: AddProps) {
  return (
    <div className="add-row">
      <Button type="submit" variant="ink" aria-disabled={pending}>
        {pending ? "Adding …" : `Add ${what}`}
      </Button>
      {onCancel && <Button onClick={onCancel}>Cancel</Button>}
    </div>
  );
}
