import { Check } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { Fragment, type KeyboardEvent, type ReactElement, type ReactNode, useRef, useState } from "react";

export interface MenuItem {
  words: string;
  /** Items of one group stand together below its name. */
  group?: string;
  /** More words, below. */
  hint?: string;
  icon?: ReactNode;
  /** Given: it is one of a choice, and is the one or not. */
  chosen?: boolean;
  disabled?: boolean;
  onSelect: () => void;
}

/** While a menu is open nothing moves under the hand: what is there no more rests where it was, what is new comes last. */
function inPlace(before: MenuItem[], now: MenuItem[]): MenuItem[] {
  const left = [...now];
  const kept = before.map((item) => {
    const at = left.findIndex((other) => other.words === item.words && other.group === item.group);
    return at < 0 ? { ...item, disabled: true } : (left.splice(at, 1)[0] ?? item);
  });
  return [...kept, ...left];
}

/** Arrows move at once: by the list's own way it takes a moment, in which a quick Enter would still choose what was left. */
function goOn(event: KeyboardEvent<HTMLElement>) {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  const items = [...event.currentTarget.querySelectorAll<HTMLElement>("[role=menuitem]:not([data-disabled])")];
  const at = items.indexOf(document.activeElement as HTMLElement);
  if (at < 0) return;
  event.preventDefault();
  event.stopPropagation();
  items[at + (event.key === "ArrowDown" ? 1 : -1)]?.focus();
}

/** A few actions, or one of a few choices, behind a button. */
export function Menu({
  trigger,
  disabled,
  title,
  items: now,
  note,
}: {
  trigger: ReactElement;
  /** It does not open. */
  disabled?: boolean;
  title?: string;
  items: MenuItem[];
  note?: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  const shown = useRef(now);
  shown.current = open ? inPlace(shown.current, now) : now;
  const items = shown.current;
  return (
    <DropdownMenu.Root open={open} onOpenChange={setOpen}>
      <DropdownMenu.Trigger asChild disabled={disabled}>
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          sideOffset={4}
          collisionPadding={8}
          onKeyDownCapture={goOn}
          className="z-50 max-h-[calc(70*var(--vh))] w-max max-w-80 min-w-44 overflow-auto rounded-md border border-line bg-raised p-1 text-[13px] shadow-xl"
        >
          {title && <DropdownMenu.Label className="px-2 py-1 text-xs text-quiet">{title}</DropdownMenu.Label>}
          {items.map((item, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two can have the same words
            <Fragment key={i}>
              {item.group && item.group !== items[i - 1]?.group && (
                <DropdownMenu.Label className="px-2 py-1 text-xs text-quiet">{item.group}</DropdownMenu.Label>
              )}
              <DropdownMenu.Item
                disabled={item.disabled}
                onSelect={item.onSelect}
                className="flex min-h-8 cursor-pointer flex-wrap items-center gap-x-2 rounded px-2 outline-none data-[disabled]:opacity-50 data-[highlighted]:bg-line"
              >
                {item.chosen === undefined ? (
                  item.icon
                ) : (
                  <Check size={14} className={item.chosen ? "" : "invisible"} aria-hidden="true" />
                )}
                <span className="truncate">{item.words}</span>
                {item.chosen && <span className="sr-only">, chosen</span>}
                {item.hint && (
                  // Below the words, not below what stands before them.
                  <span
                    className={`w-full pb-1.5 text-xs text-quiet ${item.icon || item.chosen !== undefined ? "pl-5.5" : ""}`}
                  >
                    {item.hint}
                  </span>
                )}
              </DropdownMenu.Item>
            </Fragment>
          ))}
          {note && <div className="mt-1 border-line border-t px-2 py-1.5 text-xs text-quiet">{note}</div>}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
