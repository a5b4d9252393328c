import type { PatchOperation } from "@/core/api/generated/live";

/** A document with operations applied in order. What they do not touch stays the same object, so nothing that shows it is drawn anew. */
export function applyPatch<T>(document: T, patch: readonly PatchOperation[]): T {
  return patch.reduce<unknown>((whole, operation) => at(whole, keysOf(operation.path), operation), document) as T;
}

function keysOf(path: string): string[] {
  return path
    .split("/")
    .slice(1)
    .map((key) => key.replaceAll("~1", "/").replaceAll("~0", "~"));
}

function at(place: unknown, [key, ...rest]: string[], operation: PatchOperation): unknown {
  if (key === undefined) return operation.value;
  if (Array.isArray(place)) {
    const index = Number(key);
    const count = rest.length === 0 && operation.op === "add" ? place.length : place.length - 1;
    if (!Number.isInteger(index) || index < 0 || index > count) throw new Error(`There is no ${operation.path}.`);
    if (rest.length > 0) return place.with(index, at(place[index], rest, operation));
    if (operation.op === "replace") return place.with(index, operation.value);
    return operation.op === "add" ? place.toSpliced(index, 0, operation.value) : place.toSpliced(index, 1);
  }
  if (typeof place !== "object" || place === null) throw new Error(`There is no ${operation.path}.`);
  const members = place as Record<string, unknown>;
  if (rest.length > 0) return { ...members, [key]: at(members[key], rest, operation) };
  if (operation.op !== "remove") return { ...members, [key]: operation.value };
  const { [key]: _, ...others } = members;
  return others;
}
