import { Tooltip } from "radix-ui";
import type { FocusEvent, ReactElement, ReactNode } from "react";

/**
 * What a control does, when one rests on it or comes to it by keyboard. Focus that came otherwise (back from a dialog, on from what went) tells
 * nothing: it would cover what is pressed next.
 */
export function Hint({ text, children }: { text: ReactNode; children: ReactElement }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild onFocus={whereKeysBrought}>
        {children}
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={6}
          collisionPadding={8}
          className="z-50 max-w-64 rounded-md border border-line bg-raised px-2 py-1 text-xs text-ink shadow-lg"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

export const HintProvider = Tooltip.Provider;

function whereKeysBrought(e: FocusEvent<HTMLElement>) {
  if (!e.currentTarget.matches(":focus-visible")) e.preventDefault();
}
