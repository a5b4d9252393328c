import { Addresses } from "@/features/addresses";
import { Station } from "./Station";
import { Streams } from "./Streams";

/** What leaves this desk: streams to servers, and addresses for other programs. */
export function AirScreen() {
  return (
    <div className="flex h-full flex-col overflow-auto p-4">
      <h1 className="mb-3 text-lg font-semibold">On air</h1>
      <Streams />
      <Station />
      <div className="mt-6">
        <Addresses />
      </div>
    </div>
  );
}
