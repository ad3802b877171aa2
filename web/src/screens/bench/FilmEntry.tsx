import { useState } from "react";
import { Link } from "react-router";
import type { Test } from "../../api/client";
import { type Proposals, proposedFor, withdraw } from "../../line/proposals";
import { Button, buttonLook } from "../../parts/Button";

interface Props {
  trainee: string;
  test: Test;
  disabled: boolean;
  onEnter: (proposals: Proposals) => void;
}

/** Tries that a film has proposed for a test of holds, or the way to the film. */
export function FilmEntry({ trainee, test, disabled, onEnter }: Props) {
  const [proposals, setProposals] = useState(() => proposedFor(trainee));
  // seconds are what a film can tell; touches of a wall only the coach sees
  if (!test.modes.some((m) => m.takes === "timer" && m.measure === "hold")) return null;
  if (!proposals)
    return (
      <Link to={`/trainees/${trainee}/line`} className={buttonLook("plain", true)}>
        Take it from a film
      </Link>
    );
  const many = proposals.holds.length;
  return (
    <>
      <Button live disabled={disabled} onClick={() => onEnter(proposals)}>
        Go through the film: {many} {many === 1 ? "try" : "tries"}
      </Button>
      <Button
        kind="quiet"
        live
        onClick={() => {
          withdraw(trainee);
          setProposals(null);
        }}
      >
        Leave the film
      </Button>
    </>
  );
}
