import type { QueryClient, QueryKey } from "@tanstack/react-query";

/**
 * Asks again for what is looked at, since it is known to be another. An answer that is under way counts for nothing: the first one to a question would
 * be kept, although it is older than what was told meanwhile.
 */
export async function askAnew(queries: QueryClient, queryKey: QueryKey) {
  await queries.cancelQueries({ queryKey });
  await queries.invalidateQueries({ queryKey });
}
