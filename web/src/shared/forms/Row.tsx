import type { ReactNode } from "react";

/** The rows of a form: what is asked on the left, the answer on the right. */
export function Rows({ children }: { children: ReactNode }) {
  return <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-2">{children}</div>;
}

/** One row. Without `id`, what answers has a name of its own. */
export function Row({ label, id, children }: { label: string; id?: string; children: ReactNode }) {
  return (
    <>
      {id ? (
        <label htmlFor={id} className="text-[13px] text-quiet">
          {label}
        </label>
      ) : (
        <span className="text-[13px] text-quiet" aria-hidden="true">
          {label}
        </span>
      )}
      {children}
    </>
  );
}

/** How fields of forms look. */
export const fieldLook = "h-8 rounded-md border border-line bg-ground px-2";
