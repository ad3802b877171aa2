import { Component, type ReactNode } from "react";
import { Message } from "./Message";

interface Props {
  /** Another place begins afresh. */
  place: string;
  children: ReactNode;
}

/** A screen that cannot be fetched or drawn says so, and the beam above it still leads elsewhere. */
export class Boundary extends Component<Props, { failedAt: string | null }> {
  override state = { failedAt: null as string | null };

  static getDerivedStateFromProps({ place }: Props, state: { failedAt: string | null }) {
    return state.failedAt !== null && state.failedAt !== place && state.failedAt !== ""
      ? { failedAt: null }
      : null;
  }

  static getDerivedStateFromError() {
    return { failedAt: "" };
  }

  override componentDidCatch() {
    this.setState({ failedAt: this.props.place });
  }

  override render() {
    if (this.state.failedAt !== null)
      return (
        <Message danger>
          This screen could not be fetched. What you entered is kept in this browser. Live screens are at hand
          without a server; for this one try again when it answers.
        </Message>
      );
    return this.props.children;
  }
}
