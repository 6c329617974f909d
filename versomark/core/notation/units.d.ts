import type { KatexOptions } from "katex";

export function unitTex(names: string): string;
export function numberTex(typed: string): string;
export const unitMacros: () => NonNullable<KatexOptions["macros"]>;
