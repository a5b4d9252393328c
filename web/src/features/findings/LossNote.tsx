import { useQuery } from "@tanstack/react-query";
import { answer, api } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { Failed, Loading } from "@/shared/ui/State";
import { findingsKey } from "./findings";
import { Lines } from "./Lines";

/** What would be lost if a device went: who hears what no more, and which promises that breaks. Nothing is changed by asking. */
export function LossNote({ device, name }: { device: string; name: string }) {
  const show = useShow().data;
  const loss = useQuery({
    queryKey: [...findingsKey, show?.id, show?.revision, "without", device],
    queryFn: () =>
      answer(
        api.GET("/api/shows/{show}/findings/without/{device}", { params: { path: { show: show?.id ?? "", device } } }),
      ),
    enabled: show !== undefined,
    retry: false,
  });
  if (loss.isError) return <Failed error={loss.error} retry={() => void loss.refetch()} />;
  if (!loss.data) return <Loading what="what would be lost" />;
  return (
    <section
      aria-label={`If ${name} goes`}
      className="mt-1 rounded-md border border-line bg-raised p-2.5 text-[13px] leading-5"
    >
      <Lines title={`If ${name} goes`} lines={loss.data.lost} none="Nobody hears anything otherwise." />
      <Lines title="Promises that would not be kept any more" lines={loss.data.promises} wrong />
    </section>
  );
}
