export function unitTex(names: string): string;
export function numberTex(typed: string): string;
export const unitMacros: () => Record<string, (context: object) => string>;
