import { type CSSProperties, type ReactNode, useEffect, useRef, useState } from "react";

interface Props {
  label: string;
  /** Why holding it does nothing, or what it is for. */
  title?: string;
  className: string;
  /** On top of that while it is held. */
  heldClassName: string;
  style?: CSSProperties;
  /** What it holds sounds now. */
  sounds?: boolean;
  onHold: (on: boolean) => void;
  children: ReactNode;
}

/** Something that is held, by a pointer or a key: it ends when that lets go, the window is left or no longer seen, or the button is gone. */
export function HoldButton({ label, title, className, heldClassName, style, sounds, onHold, children }: Props) {
  const held = useRef(false);
  const [isHeld, setHeld] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const turn = useRef<(on: boolean) => void>(() => undefined);
  turn.current = (on) => {
    if (held.current === on) return;
    held.current = on;
    setHeld(on);
    onHold(on);
  };
  useEffect(() => {
    // It may be drawn into a window of its own.
    const page = button.current?.ownerDocument;
    const leave = () => turn.current(false);
    const hide = () => page?.visibilityState === "hidden" && leave();
    page?.defaultView?.addEventListener("blur", leave);
    page?.addEventListener("visibilitychange", hide);
    return () => {
      page?.defaultView?.removeEventListener("blur", leave);
      page?.removeEventListener("visibilitychange", hide);
      leave();
    };
  }, []);
  return (
    <button
      ref={button}
      type="button"
      aria-label={label}
      aria-pressed={isHeld}
      title={title}
      style={style}
      data-sounds={sounds ? "" : undefined}
      className={`touch-none select-none ${className} ${isHeld ? heldClassName : ""}`}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        turn.current(true);
      }}
      onPointerUp={() => turn.current(false)}
      onPointerCancel={() => turn.current(false)}
      onContextMenu={(e) => e.preventDefault()}
      onKeyDown={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        if (!e.repeat) turn.current(true);
      }}
      onKeyUp={(e) => {
        if (e.key !== "Enter" && e.key !== " ") return;
        e.preventDefault();
        turn.current(false);
      }}
    >
      {children}
    </button>
  );
}
