import { Button, ButtonGroup } from "react-bootstrap";
import type { Method } from "../../api/client";
import { FOLLOW_KEY, METHODS } from "../../shell/methods";

interface Props {
  method?: Method;
  /** Whether it has something of its own to drop. */
  own: boolean;
  disabled?: boolean;
  onMethod: (method: Method | null) => void;
}

/** One button and one key for each method, and one to follow again. */
export function MethodButtons({ method, own, disabled, onMethod }: Props) {
  return (
    <>
      <ButtonGroup aria-label="Method">
        {METHODS.map(({ id, name, key, does }) => (
          <Button
            key={id}
            active={method === id}
            aria-pressed={method === id}
            aria-keyshortcuts={key}
            disabled={disabled}
            title={does}
            onClick={() => onMethod(id)}
          >
            {name} <kbd>{key.toUpperCase()}</kbd>
          </Button>
        ))}
      </ButtonGroup>
      <Button
        disabled={disabled || !own}
        aria-keyshortcuts={FOLLOW_KEY}
        title="Drop what it has of its own and follow: source, frame, board, the nearest that has a method"
        onClick={() => onMethod(null)}
      >
        Follow <kbd>{FOLLOW_KEY.toUpperCase()}</kbd>
      </Button>
    </>
  );
}
