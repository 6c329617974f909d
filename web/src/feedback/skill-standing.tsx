import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { OfferedList } from "../bank/offered";
import { type Band, BandSign } from "../ui/band-sign";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Field, Problem, TextInput } from "../ui/field";
import { Chip, Region } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { percent, questionInWords } from "../ui/words";

type Props = {
  sittingId: number;
  page: Schemas["ClassBySkill"];
  place: number;
  cuts: { secure: number; nearly: number };
};
const BANDS: Band[] = ["not yet", "nearly", "secure"];

/** One skill: who stands where, the questions that test it, and a group of those who need more of it. */
export function SkillStanding({ sittingId, page, place, cuts }: Props) {
  const skill = page.skills[place];
  if (!skill) return null;
  const inBand = (band: Band | null) => page.students.filter((student) => student.cells[place]?.band === band);
  return (
    <>
      <h2 className="font-serif text-2xl leading-tight font-semibold wrap-anywhere">{skill.name}</h2>
      <p className="mt-1 mb-4 text-graphite">
        {t`The class earned ${percent(skill.share)} of its ${skill.marks} marks (the true share lies between ${percent(skill.low)} and ${percent(skill.high)}), in `}
        {skill.questions.map(({ number, label }, at) => (
          <span key={number}>
            {at > 0 && ", "}
            <Link className="underline underline-offset-2" to={`/findings/${sittingId}?question=${number}`}>
              {questionInWords(label)}
            </Link>
          </span>
        ))}
        .
      </p>
      {!skill.enough && (
        <p className="mb-4 text-ochre">{t`◐ Fewer than three marks: too little to say of one student how far they are.`}</p>
      )}
      {skill.enough &&
        BANDS.map((band) => (
          <Region
            key={band}
            name={<BandSign band={band} words />}
            remark={plural(inBand(band).length, { one: "# student", other: "# students" })}
          >
            <div className="flex flex-wrap gap-1.5 pt-2">
              {inBand(band).length === 0 && <p className="text-graphite">{t`Nobody.`}</p>}
              {inBand(band).map((one) => (
                <Chip key={one.seat}>{one.name}</Chip>
              ))}
            </div>
          </Region>
        ))}
      <Region
        name={t`What helps with it`}
        remark={<ButtonLink variant="quiet" to="/materials">{t`the shelf`}</ButtonLink>}
      >
        {skill.materials.length > 0 ? (
          <OfferedList materials={skill.materials} file={(id) => `/api/v1/materials/${id}/file`} />
        ) : (
          <p className="py-2 text-graphite">{t`Nothing on the shelf says that it helps with this.`}</p>
        )}
      </Region>
      {skill.enough && <MakeGroup sittingId={sittingId} skill={skill.name} cuts={cuts} />}
    </>
  );
}

function MakeGroup({ sittingId, skill, cuts }: { sittingId: number; skill: string; cuts: Props["cuts"] }) {
  const [bands, setBands] = useState<Band[]>(["not yet"]);
  const [name, setName] = useState(t`More of ${skill}`.slice(0, 60));
  const client = useQueryClient();
  const say = useSay();
  const make = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/results/skills/groups", {
          params: { path: { sitting_id: sittingId } },
          body: { skill, bands, name, ...cuts },
        }),
      ),
    onSuccess: (made) => {
      void changed(client, "classes");
      say(
        t`“${made.name}” is a group of ${made.class_name} now: ${plural(made.students, { one: "# student", other: "# students" })}.`,
      );
    },
  });
  return (
    <Region name={t`A group of them`}>
      <form
        className="pt-3"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <div className="mb-3 flex flex-wrap gap-x-5">
          {BANDS.map((band) => (
            <Checkbox
              key={band}
              label={band}
              checked={bands.includes(band)}
              onChange={(on) => setBands(on ? [...bands, band] : bands.filter((one) => one !== band))}
            />
          ))}
        </div>
        <Field label={t`Name of the group`}>
          {(id) => (
            <TextInput id={id} required maxLength={60} value={name} onChange={(event) => setName(event.target.value)} />
          )}
        </Field>
        <Problem error={make.error} />
        <div className="flex gap-3">
          <Button type="submit" disabled={bands.length === 0 || make.isPending}>{t`Make the group`}</Button>
          {make.data && (
            <ButtonLink to={`/classes/${make.data.class_id}`}>{t`See it in ${make.data.class_name}`}</ButtonLink>
          )}
        </div>
      </form>
    </Region>
  );
}
