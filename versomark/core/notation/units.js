// Units by their names, as the LaTeX package siunitx writes them, for KaTeX: `\unit{\metre\per\second\squared}` is
// m s⁻², with upright letters and a thin space between. The pages and the server both read this one file, so that what
// is on screen is what is on paper. Names and signs are those of the SI brochure (BIPM, 9th edition, tables 2 to 8).

const SIGNS = {
  metre: "m", meter: "m", gram: "g", kilogram: "kg", second: "s", ampere: "A", kelvin: "K", mole: "mol", candela: "cd",
  hertz: "Hz", newton: "N", pascal: "Pa", joule: "J", watt: "W", coulomb: "C", volt: "V", farad: "F", ohm: "\\Omega",
  siemens: "S", weber: "Wb", tesla: "T", henry: "H", lumen: "lm", lux: "lx", becquerel: "Bq", gray: "Gy",
  sievert: "Sv", katal: "kat", radian: "rad", steradian: "sr", degreeCelsius: "\\degree C", celsius: "\\degree C",
  minute: "min", hour: "h", day: "d", degree: "\\degree", hectare: "ha", litre: "L", liter: "L", tonne: "t",
  electronvolt: "eV", bar: "bar", percent: "\\%",
};
const PREFIXES = {
  quecto: "q", ronto: "r", yocto: "y", zepto: "z", atto: "a", femto: "f", pico: "p", nano: "n", micro: "\\mu ",
  milli: "m", centi: "c", deci: "d", deca: "da", hecto: "h", kilo: "k", mega: "M", giga: "G", tera: "T", peta: "P",
  exa: "E", zetta: "Z", yotta: "Y", ronna: "R", quetta: "Q",
};
const POWERS = { square: 2, cubic: 3 };
const AFTERWARDS = { squared: 2, cubed: 3 };
const PIECE = /\\([a-zA-Z]+)|\^\s*\{?\s*([-−]?\d+)\s*\}?|([^\s.~^/\\{}]+)|(\/)/g;

/** What stands between the braces of a unit, as TeX. A name that is not known stays, for KaTeX to point at. */
export function unitTex(names) {
  const units = [];
  let sign = 1;
  let power = 1;
  let prefix = "";
  const unit = (letters) => {
    units.push({ letters: prefix + letters, power: sign * power });
    sign = 1;
    power = 1;
    prefix = "";
  };
  const raised = (to) => {
    const last = units[units.length - 1];
    if (last) last.power *= to;
  };
  for (const [, name, figure, letters, slash] of names.matchAll(PIECE)) {
    if (slash || name === "per") sign = -1;
    else if (figure) raised(Number(figure.replace("−", "-")));
    else if (letters) unit(letters.replace(/[µμ]/g, "\\mu ").replace(/Ω/g, "\\Omega ").replace(/°/g, "\\degree ").replace(/%/g, "\\%"));
    else if (Object.hasOwn(POWERS, name)) power = POWERS[name];
    else if (Object.hasOwn(AFTERWARDS, name)) raised(AFTERWARDS[name]);
    else if (Object.hasOwn(PREFIXES, name)) prefix += PREFIXES[name];
    else if (Object.hasOwn(SIGNS, name)) unit(SIGNS[name]);
    else if (name === "tothe" || name === "of") continue;
    else unit(`\\${name} `);
  }
  return units.map(({ letters, power }) => `\\mathrm{${letters}}${power === 1 ? "" : `^{${power}}`}`).join("\\,");
}

/** A number with its thousands apart and its power of ten written out; the sign for decimals stays as it was typed. */
export function numberTex(typed) {
  const parts = /^\s*([-+−]?)(\d+)(?:([.,])(\d+))?(?:\s*[eE]\s*([-+−]?\d+))?\s*$/.exec(typed);
  if (!parts) return typed;
  const [, sign, whole, comma, decimals = "", exponent] = parts;
  const apart = (digits, from) =>
    digits.length < 5 ? digits : digits.replace(from ? /(\d{3})(?=\d)/g : /(\d)(?=(\d{3})+$)/g, "$1\\,");
  const tail = exponent === undefined ? "" : `\\times 10^{${exponent.replace("−", "-").replace("+", "")}}`;
  return `${sign}${apart(whole, false)}${comma ? `{${comma}}` : ""}${apart(decimals, true)}${tail}`;
}

const inBraces = (tokens) =>
  [...tokens].reverse().map(({ text }) => (/^\\[a-zA-Z]/.test(text) ? `${text} ` : text)).join("");
const quantity = (context) => {
  const [number, unit] = context.consumeArgs(2);
  const tex = unitTex(inBraces(unit));
  // An angle stands at its number, every other unit apart from it (SI brochure, 5.4.3).
  return `${numberTex(inBraces(number))}${tex === "\\mathrm{\\degree}" ? "" : "\\,"}${tex}`;
};
const unit = (context) => unitTex(inBraces(context.consumeArgs(1)[0]));

/** What KaTeX is given as `macros`. A new object each time, since KaTeX writes into it. */
export const unitMacros = () => ({
  "\\unit": unit,
  "\\si": unit,
  "\\qty": quantity,
  "\\SI": quantity,
  "\\num": (context) => numberTex(inBraces(context.consumeArgs(1)[0])),
});
