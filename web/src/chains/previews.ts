import { create } from "zustand";

interface Previews {
  /** Values that are being turned, here or in another window, by processor and parameter. */
  values: Record<string, number>;
}

/** What is heard of processors at this moment but not stored. */
export const usePreviews = create<Previews>(() => ({ values: {} }));

export function previewKey(processor: string, parameter: string): string {
  return `${processor}/${parameter}`;
}

/** A value is being turned; null: no longer. */
export function setPreviewed(processor: string, parameter: string, value: number | null) {
  const key = previewKey(processor, parameter);
  usePreviews.setState(({ values }) => {
    const { [key]: _, ...rest } = values;
    return { values: value === null ? rest : { ...rest, [key]: value } };
  });
}
