import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { keepPictureAddress } from "../bank/pictures";
import { Button } from "../ui/button";
import { TextInput } from "../ui/field";
import { RichField } from "../ui/rich-field";

type Page = Schemas["TeachingPage"];
type Props = { page: Page; onChange: (page: Page) => void; onTake: () => void };

/** A page to teach from: one idea, in text and pictures. */
export function PageRow({ page, onChange, onTake }: Props) {
  return (
    <div className="border-s-2 border-iris ps-3">
      <div className="mb-1 flex items-center gap-3">
        <TextInput
          aria-label={t`Title of the page`}
          className="font-serif text-lg"
          placeholder={t`A page to teach from: its one idea`}
          maxLength={200}
          value={page.title}
          onChange={(event) => onChange({ ...page, title: event.target.value })}
        />
        <Button variant="quiet" onClick={onTake} aria-label={t`Take out the page`}>{t`take out`}</Button>
      </div>
      <RichField
        label={t`Text of the page`}
        className="font-serif"
        value={page.body}
        onPicture={keepPictureAddress}
        onChange={(body) => onChange({ ...page, body })}
      />
    </div>
  );
}
