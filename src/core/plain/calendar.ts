/** Whether a text is a day that the proleptic Gregorian calendar has, in the years 0000 to 9999: `2026-03-01`. */
export function isDay(text: string): boolean {
  if (text.length !== 10 || text[4] !== '-' || text[7] !== '-') return false;
  const [year, month, day] = [digits(text, 0, 4), digits(text, 5, 7), digits(text, 8, 10)];
  return year >= 0 && month >= 1 && month <= 12 && day >= 1 && day <= daysIn(year, month);
}

/** The number that the digits of a text say from one place to another; `NaN` where something else is there. */
function digits(text: string, from: number, to: number): number {
  let number = 0;
  for (let index = from; index < to; index += 1) {
    const digit = text.charCodeAt(index) - 48;
    number = digit >= 0 && digit <= 9 ? number * 10 + digit : Number.NaN;
  }

  return number;
}

function daysIn(year: number, month: number): number {
  const isLeap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  return [31, isLeap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1] ?? 0;
}
