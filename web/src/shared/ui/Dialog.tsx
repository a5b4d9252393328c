import { X } from "lucide-react";
import { AlertDialog as RadixAlert, Dialog as RadixDialog } from "radix-ui";
import type { ReactElement, ReactNode } from "react";
import { Button } from "./Button";

const veil = "fixed inset-0 bg-black/50";
const sheet =
  "fixed top-1/2 left-1/2 z-50 max-h-[calc(90*var(--vh))] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-lg border border-line bg-surface p-5 shadow-2xl";

const widths = {
  narrow: "w-[min(30rem,calc(calc(100*var(--vw))-1.5rem))]",
  wide: "w-[min(46rem,calc(calc(100*var(--vw))-1.5rem))]",
} as const;

interface DialogProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  words: string;
  /** Room for long sentences. */
  wide?: boolean;
  children: ReactNode;
}

export function Dialog({ open, onOpenChange, title, words, wide, children }: DialogProps) {
  return (
    <RadixDialog.Root open={open} onOpenChange={onOpenChange}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className={`${veil} z-40`} />
        <RadixDialog.Content
          className={`${sheet} ${wide ? widths.wide : widths.narrow}`}
          onEscapeKeyDown={(e) => {
            // Of what is asked for in it, Escape ends the asking alone.
            if (document.activeElement?.hasAttribute("data-own-escape")) e.preventDefault();
          }}
        >
          <div className="mb-1 flex items-start justify-between gap-4">
            <RadixDialog.Title className="text-lg font-semibold">{title}</RadixDialog.Title>
            <RadixDialog.Close asChild>
              <Button tone="quiet" square className="-mt-1 -mr-2" aria-label="Close" icon={<X size={16} />} />
            </RadixDialog.Close>
          </div>
          <RadixDialog.Description className="mb-4 text-[13px] text-quiet">{words}</RadixDialog.Description>
          {children}
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

interface ConfirmProps {
  /** Opens it; left out: it is opened from elsewhere. */
  trigger?: ReactElement;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  title: string;
  words: ReactNode;
  action: string;
  /** It cannot be done now; the words say why. */
  disabled?: boolean;
  onConfirm: () => void;
}

/** Asks before something that cannot be taken back. */
export function Confirm({ trigger, open, onOpenChange, title, words, action, disabled, onConfirm }: ConfirmProps) {
  return (
    <RadixAlert.Root open={open} onOpenChange={onOpenChange}>
      {trigger && <RadixAlert.Trigger asChild>{trigger}</RadixAlert.Trigger>}
      <RadixAlert.Portal>
        {/* Above another dialog, where it is asked from one. */}
        <RadixAlert.Overlay className={`${veil} z-50`} />
        <RadixAlert.Content className={`${sheet} ${widths.narrow}`}>
          <RadixAlert.Title className="text-lg font-semibold">{title}</RadixAlert.Title>
          <RadixAlert.Description asChild>
            <div className="mt-1 mb-5 text-[13px] text-quiet">{words}</div>
          </RadixAlert.Description>
          <div className="flex justify-end gap-2">
            <RadixAlert.Cancel asChild>
              <Button>Keep it</Button>
            </RadixAlert.Cancel>
            <RadixAlert.Action asChild>
              <Button tone="wrong" disabled={disabled} onClick={onConfirm}>
                {action}
              </Button>
            </RadixAlert.Action>
          </div>
        </RadixAlert.Content>
      </RadixAlert.Portal>
    </RadixAlert.Root>
  );
}
