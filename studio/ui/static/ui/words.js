// The few texts that scripts say themselves; the page holds them in the reader's language, as data of #words.

export function word(name, parts = {}) {
  const text = document.getElementById("words")?.dataset[name] ?? "";
  return text.replace(/\{(\w+)\}/g, (place, part) => parts[part] ?? place);
}

const figures = (digits) => new Intl.NumberFormat(document.documentElement.lang, { ...digits, useGrouping: false });
const [short, tenths] = [figures({ maximumFractionDigits: 3 }), figures({ minimumFractionDigits: 1, maximumFractionDigits: 1 })];

// A number without needless digits, and one in tenths as a scale shows it.
export const figure = (number) => short.format(number);
export const inTenths = (number) => tenths.format(number);

// Grams as the house measures them: the number alone, and with its unit.
const measure = () => document.getElementById("words")?.dataset ?? {};
export const weighed = (grams) => (measure().unit === "oz" ? figures({ minimumFractionDigits: 2, maximumFractionDigits: 3 }).format(grams / Number(measure().unitG)) : inTenths(grams));
export const withUnit = (number) => `${number > 0 ? "+" : "−"}${figure(Math.abs(number))} ${measure().unit}`;

// What was typed as a number, with a point or a comma; NaN for anything else.
export const typed = (text) => Number(text.trim().replace(",", "."));
