/** A field of a form as text without blanks around it; empty where it is none. */
export function textOf(form: FormData, name: string): string {
  const value = form.get(name);
  return typeof value === 'string' ? value.trim() : '';
}

/** A password as it was typed. */
export function passwordOf(form: FormData, name = 'password'): string {
  const value = form.get(name);
  return typeof value === 'string' ? value : '';
}
