import type { IntakePage } from "../../api/client";
import type { Answer } from "./Caution";

/** What is typed on the intake, as it stands in its fields. */
export interface Answers {
  stature: string;
  mass: string;
  lengths: Record<string, string>;
  cautions: Record<string, Answer>;
  cleared: boolean;
  goals: string[];
  experience: string[];
  kit: string[];
  confidence: string;
  history: string;
}

/** The fields filled with what is known of a trainee. */
export const answersOf = ({ profile, goals }: IntakePage): Answers => ({
  stature: profile?.stature_cm ? String(profile.stature_cm) : "",
  mass: profile?.mass_kg ? String(profile.mass_kg) : "",
  lengths: Object.fromEntries(Object.entries(profile?.lengths_cm ?? {}).map(([k, v]) => [k, String(v)])),
  cautions: Object.fromEntries(
    Object.entries(profile?.cautions ?? {}).map(([k, yes]) => [k, yes ? "yes" : "no"]),
  ),
  cleared: profile?.cleared ?? false,
  goals: goals.filter((g) => g.chosen).map((g) => g.goal),
  experience: profile?.experience ?? [],
  kit: profile?.kit ?? [],
  confidence: profile?.confidence ? String(profile.confidence) : "",
  history: profile?.history ?? "",
});

const number = (text: string) => (text ? Number(text) : null);

/** The answers as they are sent; a confirmation counts only where something asks for it. */
export const sentOf = (answers: Answers, asked: boolean) => ({
  stature_cm: Number(answers.stature),
  mass_kg: number(answers.mass),
  lengths_cm: Object.fromEntries(
    Object.entries(answers.lengths)
      .filter(([, text]) => text)
      .map(([name, text]) => [name, Number(text)]),
  ),
  cautions: Object.fromEntries(
    Object.entries(answers.cautions)
      .filter(([, answer]) => answer)
      .map(([name, answer]) => [name, answer === "yes"]),
  ),
  cleared: answers.cleared && asked,
  experience: answers.experience,
  history: answers.history,
  confidence: number(answers.confidence),
  kit: answers.kit,
});
