import { Addresses } from "./Addresses";

/** What leaves this desk for other programs. */
export function AirScreen() {
  return (
    <div className="flex h-full flex-col overflow-auto p-4">
      <h1 className="mb-3 text-lg font-semibold">On air</h1>
      <Addresses />
    </div>
  );
}
