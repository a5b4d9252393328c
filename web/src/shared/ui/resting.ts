import type { SyntheticEvent } from "react";

const refuse = (e: SyntheticEvent) => e.preventDefault();

/**
 * What a button has on top while it rests: it says so and does nothing, but keeps its place and the focus. A press that is being answered must not hand the next key to the button's neighbour.
 */
export function resting(disabled: boolean | undefined) {
  return disabled ? { "aria-disabled": true, disabled: false, onClick: refuse } : { disabled: false };
}
