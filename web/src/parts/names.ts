/** Finding somebody by some letters of a name: whatever its accents and capitals, every word that was typed is somewhere in it. */

const plain = (text: string) =>
  text
    .normalize("NFD")
    .replace(/\p{Mn}/gu, "")
    .toLowerCase();
const wordsOf = (text: string) => plain(text).split(/\s+/).filter(Boolean);

/** Whether a name has every word that was typed; nothing typed fits everybody. */
export const fits = (name: string, typed: string) =>
  wordsOf(typed).every((word) => plain(name).includes(word));

/** Whether one of a name's words begins with the first that was typed. */
export const begins = (name: string, typed: string) =>
  wordsOf(name).some((part) => part.startsWith(wordsOf(typed)[0] ?? ""));
