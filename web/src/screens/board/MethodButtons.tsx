import { Button, ButtonGroup } from "react-bootstrap";
import type { Method } from "../../api/client";
import { Key, keysOf } from "../../keys/Key";
import { METHOD_LIST } from "../../keys/methods";
import { tip } from "../../tip";

interface Props {
  method?: Method | undefined;
  /** Whether it has something of its own to drop. */
  own: boolean;
  disabled?: boolean | undefined;
  onMethod: (method: Method | null) => void;
}

/** One button and one key for each method, and one to follow again. */
export function MethodButtons({ method, own, disabled, onMethod }: Props) {
  return (
    <>
      <ButtonGroup aria-label="Method">
        {METHOD_LIST.map(({ id, name, does }) => (
          <Button
            key={id}
            active={method === id}
            aria-pressed={method === id}
            {...keysOf(id)}
            disabled={disabled}
            {...tip(does)}
            onClick={() => onMethod(id)}
          >
            {name} <Key of={id} />
          </Button>
        ))}
      </ButtonGroup>
      <Button
        disabled={disabled || !own}
        {...keysOf("follow")}
        {...tip(
          "Remove the setting here: the nearest default applies, from the source, the frame or the board",
        )}
        onClick={() => onMethod(null)}
      >
        Follow default <Key of="follow" />
      </Button>
    </>
  );
}
