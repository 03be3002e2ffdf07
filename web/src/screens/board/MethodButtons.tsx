import { Button, ButtonGroup } from "react-bootstrap";
import type { Method } from "../../api/client";
import { FOLLOW_KEY, METHODS } from "../../shell/methods";

interface Props {
  method?: Method;
  own: boolean;
  disabled?: boolean;
  onMethod: (method: Method | null) => void;
}

/** One button and one key for each method, and one to follow the frame again. */
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
        title="Drop this conversion's own framing and follow the frame's method"
        onClick={() => onMethod(null)}
      >
        Follow frame <kbd>{FOLLOW_KEY.toUpperCase()}</kbd>
      </Button>
    </>
  );
}
