import { t } from "@lingui/core/macro";
import {
  browserSupportsWebAuthn,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  startAuthentication,
  startRegistration,
  WebAuthnError,
} from "@simplewebauthn/browser";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { whenOf } from "../ui/words";

/** A browser lets passkeys be used on an encrypted page, and on the machine that serves it, only. */
const possible = browserSupportsWebAuthn() && window.isSecureContext && !/^[\d.]+$|:/.test(location.hostname);

/** Whoever closes the browser's window about it has changed their mind: no mistake. */
const changedTheirMind = (error: unknown) =>
  (error instanceof WebAuthnError || error instanceof DOMException) &&
  (error.name === "NotAllowedError" || error.name === "AbortError");

export function SignInWithPasskey({ shared, onDone }: { shared: boolean; onDone: (me: Schemas["Me"]) => void }) {
  const signIn = useMutation({
    mutationFn: async () => {
      const { options } = await read(api.POST("/api/v1/sign-in/passkey/offer"));
      const optionsJSON = options as unknown as PublicKeyCredentialRequestOptionsJSON;
      const response = await startAuthentication({ optionsJSON });
      const body = { response: response as unknown as Record<string, never>, is_shared: shared };
      return read(api.POST("/api/v1/sign-in/passkey", { body }));
    },
    onSuccess: onDone,
  });
  if (!possible) return null;
  return (
    <div className="mt-4">
      {!changedTheirMind(signIn.error) && <Problem error={signIn.error} />}
      <Button disabled={signIn.isPending} onClick={() => signIn.mutate()}>{t`Sign in with a passkey`}</Button>
    </div>
  );
}

export function Passkeys() {
  const client = useQueryClient();
  const key = ["passkeys"];
  const list = useQuery({ queryKey: key, queryFn: () => read(api.GET("/api/v1/me/passkeys")) });
  const keep = { onSuccess: (next: Schemas["PasskeyLine"][]) => answered(client, key, next) };
  const add = useMutation({
    mutationFn: async () => {
      const { options } = await read(api.POST("/api/v1/me/passkeys/offer"));
      const optionsJSON = options as unknown as PublicKeyCredentialCreationOptionsJSON;
      const response = await startRegistration({ optionsJSON });
      const body = { response: response as unknown as Record<string, never>, is_shared: false };
      return read(api.POST("/api/v1/me/passkeys", { body }));
    },
    ...keep,
  });
  const remove = useMutation({
    mutationFn: (passkey_id: number) =>
      read(api.DELETE("/api/v1/me/passkeys/{passkey_id}", { params: { path: { passkey_id } } })),
    ...keep,
  });
  const entries = list.data ?? [];
  return (
    <Region name={t`Passkeys`}>
      <p className="py-2 text-sm text-graphite">
        {possible
          ? t`With a passkey you sign in by a look or a touch, without a password and without figures. It stays on your device or in your password manager.`
          : t`Passkeys need an encrypted address (https) under a name. Ask whoever runs this service.`}
      </p>
      {entries.length > 0 && (
        <Table
          caption={t`Passkeys`}
          heads={[{ label: t`Made on` }, { label: t`Last used`, right: true }, { label: t`Take out`, silent: true }]}
        >
          {entries.map((entry) => (
            <Row key={entry.id}>
              <Cell>
                {entry.device || t`a browser`}, {whenOf(entry.made_at)}
              </Cell>
              <Cell right>{entry.used_at ? whenOf(entry.used_at) : t`never`}</Cell>
              <Cell right>
                <AskFirst
                  name={t`take out`}
                  label={t`Take out the passkey made on ${entry.device}`}
                  title={t`Take out this passkey?`}
                  says={t`You can no longer sign in with it. Your password and your other passkeys stay.`}
                  does={t`Take it out`}
                  busy={remove.isPending}
                  onSure={() => remove.mutate(entry.id)}
                />
              </Cell>
            </Row>
          ))}
        </Table>
      )}
      {!changedTheirMind(add.error) && <Problem error={list.error ?? add.error ?? remove.error} />}
      {possible && (
        <Button disabled={add.isPending} onClick={() => add.mutate()}>{t`Make a passkey on this device`}</Button>
      )}
    </Region>
  );
}
