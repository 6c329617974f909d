/** Letters that are no other letter with a mark, and are typed as one by whoever has no key for them. */
const TYPED: Record<string, string> = { ø: "o", ł: "l", đ: "d", ð: "d", þ: "th", ß: "ss", æ: "ae", œ: "oe", ı: "i" };

/** Words as one types them in a hurry: small letters, Latin ones without their marks. Other scripts stay as they are. */
export const folded = (text: string): string =>
  text
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .normalize("NFC")
    .toLowerCase()
    .replace(/[øłđðþßæœı]/g, (letter) => TYPED[letter] ?? letter);
