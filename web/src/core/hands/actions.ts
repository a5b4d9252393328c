import { actions as table } from "@/core/api/generated/actions";

/** What an action is told beside its address. */
export type ActionValue = (typeof table)[number]["value"];

export interface Action {
  address: string;
  words: string;
  value: ActionValue;
  place: "Show" | "Window";
  keys: readonly string[];
}

/** All that can be done by hand: the server's table, which keys, controllers, messages, commands and the palette share. */
export const actions: readonly Action[] = table;

/** An action of this window alone, by its address. */
export type WindowAddress = Extract<(typeof table)[number], { place: "Window" }>["address"];

/** The targets of an address, by what they are: `{pad}` is a pad. */
export function targetsOf(address: string): string[] {
  return [...address.matchAll(/\{(\w+)\}/g)].map((m) => m[1] ?? "");
}

/** What there is that an address can name, by kind. */
export type Things = Readonly<Record<string, readonly { id: string; name: string }[]>>;

/** An action with what it is done to. */
export interface Call {
  action: Action;
  /** By ids, which stay whatever things are called. */
  address: string;
  words: string;
  ids: readonly string[];
}

/** An action with everything that it could be done to. */
export function callsOf(action: Action, things: Things): Call[] {
  let calls: Call[] = [{ action, address: action.address, words: action.words, ids: [] }];
  for (const target of targetsOf(action.address))
    calls = calls.flatMap((call) =>
      (things[target] ?? []).map(({ id, name }) => ({
        action,
        address: call.address.replace(`{${target}}`, id),
        words: call.words.replace(`{${target}}`, name),
        ids: [...call.ids, id],
      })),
    );
  return calls;
}

/** What an address by ids means; null: nothing that is there. */
export function callOf(address: string, things: Things): Call | null {
  const parts = address.split("/");
  for (const action of actions) {
    const own = action.address.split("/");
    if (own.length !== parts.length) continue;
    const ids: string[] = [];
    let words = action.words;
    const fits = own.every((part, i) => {
      const target = targetsOf(part)[0];
      if (target === undefined) return part === parts[i];
      const thing = things[target]?.find((t) => t.id === parts[i]);
      if (!thing) return false;
      ids.push(thing.id);
      words = words.replace(part, thing.name);
      return true;
    });
    if (fits) return { action, address, words, ids };
  }
  return null;
}

/** The action of an address, whatever it is done to. */
export function actionOf(address: string): Action | null {
  const parts = address.split("/");
  return (
    actions.find((a) => {
      const own = a.address.split("/");
      return own.length === parts.length && own.every((p, i) => p.startsWith("{") || p === parts[i]);
    }) ?? null
  );
}
