type Offered = {
  id: string;
  kind: string;
  title: string;
  note: string;
  link: string;
  file: string;
};

type Props = {
  materials: Offered[];
  /** Where the file of one is fetched. */
  file: (id: string) => string;
};

/** What helps with a skill: each with its link, its file and its note. */
export function OfferedList({ materials, file }: Props) {
  return (
    <ul>
      {materials.map((one) => (
        <li key={one.id} className="border-b border-hairline py-1.5 wrap-anywhere">
          <span className="text-graphite">{one.kind}: </span>
          {one.link ? (
            <a href={one.link} target="_blank" rel="noreferrer noopener" className="underline underline-offset-2">
              {one.title}
            </a>
          ) : (
            <strong>{one.title}</strong>
          )}
          {one.file && (
            <a href={file(one.id)} className="ml-2 underline underline-offset-2" download>
              {one.file}
            </a>
          )}
          {one.note && <span className="block whitespace-pre-line text-graphite">{one.note}</span>}
        </li>
      ))}
    </ul>
  );
}
