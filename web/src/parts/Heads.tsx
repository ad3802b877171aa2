/** The row of heads over a table. */
export function Heads({ words, className = "" }: { words: readonly string[]; className?: string }) {
  return (
    <thead className={`text-soft ${className}`}>
      <tr>
        {words.map((head) => (
          <th key={head} scope="col" className="pr-3 font-normal">
            {head}
          </th>
        ))}
      </tr>
    </thead>
  );
}
