import { Tooltip } from "radix-ui";
import type { ReactElement, ReactNode } from "react";

/** What a control does, when one rests on it or comes to it by keyboard. */
export function Hint({ text, children }: { text: ReactNode; children: ReactElement }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
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
