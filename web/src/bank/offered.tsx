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
      {materials.map((material) => (
        <li key={material.id} className="border-b border-hairline py-1.5 wrap-anywhere">
          <span className="text-graphite">{material.kind}: </span>
          {material.link ? (
            <a href={material.link} target="_blank" rel="noreferrer noopener" className="underline underline-offset-2">
              <bdi>{material.title}</bdi>
            </a>
          ) : (
            <strong>
              <bdi>{material.title}</bdi>
            </strong>
          )}
          {material.file && (
            <a href={file(material.id)} className="ms-2 underline underline-offset-2" download>
              {material.file}
            </a>
          )}
          {material.note && (
            <span dir="auto" className="block whitespace-pre-line text-graphite">
              {material.note}
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}
