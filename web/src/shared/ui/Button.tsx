import type { ButtonHTMLAttributes, ReactNode } from "react";
import { resting } from "./resting";

type Tone = "plain" | "quiet" | "lamp" | "lit" | "wrong";

const tones: Record<Tone, string> = {
  plain: "border border-line bg-raised text-ink hover:border-strong",
  quiet: "border border-transparent text-quiet hover:bg-raised hover:text-ink",
  lamp: "border border-lamp bg-lamp text-on-lamp font-semibold hover:brightness-105",
  lit: "border border-lamp text-lamp-ink bg-lamp/10 hover:bg-lamp/20",
  wrong: "border border-wrong text-wrong hover:bg-wrong/10",
};

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  tone?: Tone;
  icon?: ReactNode;
  /** Only its icon: as wide as high. Its label is for screen readers and its hint. */
  square?: boolean;
  /** For narrow headings. */
  small?: boolean;
  /** Its words hold names that people gave: it grows with them instead of leaving what it stands in. */
  wraps?: boolean;
}

export function Button({
  tone = "plain",
  icon,
  square,
  small,
  wraps,
  disabled,
  className = "",
  children,
  ...rest
}: Props) {
  return (
    <button
      type="button"
      className={`inline-flex shrink-0 items-center justify-center rounded-md aria-disabled:opacity-50 ${wraps ? "h-auto min-h-7 max-w-full text-left" : "whitespace-nowrap"} ${small ? "gap-1 text-xs" : "gap-1.5 text-[13px]"} ${square ? "w-8" : small ? "px-1" : "px-2.5"} ${tones[tone]} ${className} ${wraps || /\bh-/.test(className) ? "" : "h-8"}`}
      {...rest}
      {...resting(disabled)}
    >
      {icon}
      {children}
    </button>
  );
}
