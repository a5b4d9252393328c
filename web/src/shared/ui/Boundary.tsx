import { RotateCcw } from "lucide-react";
import { Component, type ReactNode } from "react";
import { Button } from "./Button";

interface Props {
  /** What cannot be shown then: "The inspector". */
  what: string;
  children: ReactNode;
}

/** Where a part of the page fails, says so in its place: the other parts stay, and sound goes on. */
export class Boundary extends Component<Props, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <div role="alert" className="m-3 max-w-80 rounded-md border border-wrong bg-surface p-3 text-[13px]">
        <p className="font-semibold">{this.props.what} cannot be shown.</p>
        <p className="mt-1 mb-2 text-quiet">
          Something in it is not understood here. Sound, and what is stored, go on.
        </p>
        <Button icon={<RotateCcw size={14} />} onClick={() => this.setState({ failed: false })}>
          Try again
        </Button>
      </div>
    );
  }
}
