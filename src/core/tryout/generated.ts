/**
 * Does a class, an id or a value look as if a build had made it? Such a name may be another tomorrow. Words with hyphens, in camel case or with a
 * small number are somebody's; letters and digits thrown together, or capitals where no word begins, are nobody's.
 */
export function looksGenerated(name: string): boolean {
  if (/[:«»]/.test(name) || /^\d/.test(name)) return true;
  return name.split(/[-_.]+/).some(isThrown);
}

function isThrown(part: string): boolean {
  if (part.length < 4) return false;
  const [digits, letters] = [part.replace(/\D/g, ''), part.replace(/[^A-Za-z]/g, '')];
  // A number at the end of a word counts things: "col12", "step2"; one of many digits does not.
  const isCounted = /^[a-z]{2,4}\d{1,2}$/.test(part) || (/^[A-Za-z]{2,}\d{1,2}$/.test(part) && /[aeiouy]/i.test(letters));
  if (digits && letters && !isCounted) return true;
  if (digits.length > 4) return true;
  if (letters.length < 5) return false;
  // In camel case a capital begins a word of at least two letters; more capitals than that are chance.
  const words = part.match(/[A-Z]?[a-z]+|[A-Z]+(?![a-z])/g) ?? [];
  const short = words.filter((word) => word.length < 3).length;
  if (words.length >= 3 && short * 2 >= words.length) return true;
  return !/[aeiouy]/i.test(letters) || /[bcdfghjklmnpqrstvwxz]{6,}/i.test(letters);
}
