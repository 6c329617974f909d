import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { NO_PLAN } from "../api/plan";
import { ClassChoice, useClasses } from "../classes/class-choice";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem } from "../ui/field";
import { ScrollBox } from "../ui/scroll-box";
import { AcrossClasses } from "./across-classes";
import { PlanForm } from "./plan-form";

const ALL = "all";
const SOME = "some";

/** Which test, for whom, when, under which rules. */
export function NewSitting({ onClose }: { onClose: () => void }) {
  const [params] = useSearchParams();
  const [edition, setEdition] = useState(params.get("edition") ?? "");
  const [classId, setClassId] = useState(params.get("class") ?? "");
  const [who, setWho] = useState(ALL);
  const [chosen, setChosen] = useState<number[]>([]);
  const [finding, setFinding] = useState(false);
  const [plan, setPlan] = useState(NO_PLAN);
  const [ownTime, setOwnTime] = useState(false);
  const navigate = useNavigate();
  const client = useQueryClient();
  const editions = useQuery({ queryKey: ["editions"], queryFn: () => read(api.GET("/api/v1/editions")) });
  const planned = editions.data?.find((line) => String(line.id) === edition)?.minutes || null;
  // What the test is planned for, until the teacher says another time.
  const minutes = ownTime ? (plan.rules.minutes ?? null) : planned;
  const timed = { ...plan, rules: { ...plan.rules, minutes } };
  const classes = useClasses();
  const list = useQuery({
    queryKey: ["class", Number(classId)],
    enabled: classId !== "",
    queryFn: () => read(api.GET("/api/v1/classes/{class_id}", { params: { path: { class_id: Number(classId) } } })),
  });
  const make = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings", {
          body: {
            ...timed,
            edition: Number(edition),
            class_id: Number(classId),
            students: who === SOME ? chosen : null,
            group: who === ALL || who === SOME ? null : Number(who),
          },
        }),
      ),
    onSuccess: (made) => {
      void changed(client, "plan");
      navigate(`/sittings/${made.id}`);
    },
  });
  const nothing = editions.data?.length === 0 ? "/tests?new=1" : classes.data?.length === 0 ? "/classes?new=1" : null;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`New sitting`}
      says={t`Each student joins with the code on the board and their pass, on a device, or on paper sheets.`}
    >
      {nothing ? (
        <p>
          {nothing.startsWith("/tests") ? t`No test is frozen yet. ` : t`There is no class yet. `}
          <ButtonLink to={nothing} variant="main">
            {nothing.startsWith("/tests") ? t`Make a test` : t`Make a class`}
          </ButtonLink>
        </p>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate();
          }}
        >
          <div className="grid gap-x-5 sm:grid-cols-2">
            <Field label={t`Test`}>
              {(id) => (
                <Choice id={id} required value={edition} onChange={(event) => setEdition(event.target.value)}>
                  <option value="">{t`choose…`}</option>
                  {editions.data?.map((line) => (
                    <option key={line.id} value={line.id}>
                      {t`${line.title}, edition ${line.number} (${plural(line.questions, { one: "# question", other: "# questions" })})`}
                    </option>
                  ))}
                </Choice>
              )}
            </Field>
            <ClassChoice
              value={classId}
              onChange={(id) => {
                setClassId(id);
                setWho(ALL);
                setChosen([]);
              }}
            />
          </div>
          {finding ? (
            <AcrossClasses
              onDone={(made) => {
                setClassId(String(made));
                setWho(ALL);
                setFinding(false);
              }}
            />
          ) : (
            <p className="mb-4">
              <Button variant="quiet" onClick={() => setFinding(true)}>{t`students of several classes…`}</Button>
            </p>
          )}
          {list.data && list.data.list.length > 0 && (
            <Field label={t`For`}>
              {(id) => (
                <Choice id={id} value={who} onChange={(event) => setWho(event.target.value)}>
                  <option value={ALL}>{t`all of the class`}</option>
                  {list.data.groups.map((group) => (
                    <option
                      key={group.id}
                      value={group.id}
                    >{t`the group ${group.name} (${group.students.length})`}</option>
                  ))}
                  <option value={SOME}>{t`some students…`}</option>
                </Choice>
              )}
            </Field>
          )}
          {who === SOME && list.data && (
            <ScrollBox label={t`Students to choose`}>
              <div className="columns-2 gap-5">
                {list.data.list.map(({ id, desk, full_name }) => (
                  <Checkbox
                    key={id}
                    label={`${desk} ${full_name}`}
                    checked={chosen.includes(id)}
                    onChange={(on) => setChosen(on ? [...chosen, id] : chosen.filter((one) => one !== id))}
                  />
                ))}
              </div>
            </ScrollBox>
          )}
          <PlanForm
            plan={timed}
            planned={planned}
            onChange={(next) => {
              if (next.rules.minutes !== minutes) setOwnTime(true);
              setPlan(next);
            }}
          />
          <Problem error={make.error} />
          <Button
            type="submit"
            variant="main"
            disabled={make.isPending || (who === SOME && chosen.length === 0)}
          >{t`Plan the sitting`}</Button>
        </form>
      )}
    </Dialog>
  );
}
