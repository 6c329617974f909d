import type { ComponentProps } from "react";
import { Link } from "react-router";
import { KeyCap } from "./key-cap";

type Look = "main" | "plain" | "quiet";

const looks: Record<Look, string> = {
  main: "border-ink bg-ink text-page hover:opacity-90",
  plain: "border-hairline bg-page text-ink hover:border-edge",
  quiet: "border-transparent bg-transparent text-graphite underline underline-offset-2 hover:text-ink px-1!",
};
const shape =
  "inline-flex min-h-8 items-center justify-center gap-2 rounded-xs border px-3 py-1 text-sm font-semibold whitespace-nowrap disabled:opacity-50";

type ButtonProps = ComponentProps<"button"> & { variant?: Look; keyHint?: string };

export function Button({ variant: look = "plain", keyHint: cap, className = "", children, ...rest }: ButtonProps) {
  return (
    <button type="button" className={`${shape} ${looks[look]} ${className}`} {...rest}>
      {children}
      {cap && <KeyCap hint>{cap}</KeyCap>}
    </button>
  );
}

export function ButtonLink({
  variant: look = "plain",
  className = "",
  ...rest
}: ComponentProps<typeof Link> & { variant?: Look }) {
  return <Link className={`${shape} ${looks[look]} ${className}`} {...rest} />;
}
