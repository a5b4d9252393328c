import type { ButtonHTMLAttributes, ReactNode } from "react";

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
}

export function Button({ tone = "plain", icon, className = "", children, ...rest }: Props) {
  return (
    <button
      type="button"
      className={`inline-flex h-8 shrink-0 items-center justify-center gap-1.5 rounded-md px-2.5 text-[13px] whitespace-nowrap disabled:opacity-50 ${tones[tone]} ${className}`}
      {...rest}
    >
      {icon}
      {children}
    </button>
  );
}
