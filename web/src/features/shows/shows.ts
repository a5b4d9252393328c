import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "@/core/api/client";
import { acceptShow } from "@/core/commands/show";
import { tellWrong } from "@/core/notices/notices";
import { refetchOn } from "@/core/realtime/hub";

const showsKey = ["shows"] as const;

/** Keeps the list in step with the server. */
export function followShows(queries: QueryClient) {
  refetchOn(queries, "ShowsChanged", showsKey);
  refetchOn(queries, "StorageChanged", showsKey);
}

/** All shows, those that were put away too. */
export function useShows() {
  return useQuery({ queryKey: showsKey, queryFn: () => answer(api.GET("/api/shows")) });
}

function useListChange<T>(send: (change: T) => Promise<unknown>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onError: tellWrong,
    onSettled: () => void queries.invalidateQueries({ queryKey: showsKey }),
  });
}

export function useAddShow() {
  return useListChange((body: { name?: string; copyOf?: string }) => answer(api.POST("/api/shows", { body })));
}

/** Makes a show of a show file. */
export function useImportShow() {
  return useListChange(async (file: File) =>
    answer(
      api.POST("/api/shows/file", {
        body: (await file.text()) as never,
        bodySerializer: (body) => body as unknown as string,
        headers: { "Content-Type": "application/json" },
      }),
    ),
  );
}

export function useRenameShow() {
  return useListChange(({ show, name }: { show: string; name: string }) =>
    answer(api.PATCH("/api/shows/{show}", { params: { path: { show } }, body: { name } })),
  );
}

export function usePutAwayShow() {
  return useListChange((show: string) => answer(api.DELETE("/api/shows/{show}", { params: { path: { show } } })));
}

export function useBringBackShow() {
  return useListChange((show: string) => answer(api.POST("/api/shows/{show}/restore", { params: { path: { show } } })));
}

/** Makes a show the live one, by a crossfade. */
export function useOpenShow() {
  const queries = useQueryClient();
  return useListChange(async (show: string) => {
    const opened = await answer(api.POST("/api/shows/{show}/open", { params: { path: { show } } }));
    acceptShow(queries, opened);
    return opened;
  });
}
