export type Answered<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly status: number; readonly code: string; readonly message: string };

/** One request. Never throws: a network that is away is a refusal like any other. */
export async function ask<T>(url: string, given: RequestInit, signal?: AbortSignal): Promise<Answered<T>> {
  try {
    const response = await fetch(url, { ...given, ...(signal ? { signal } : {}) });
    const answer = (await response.json()) as T & { error?: { code: string; message: string } };
    if (response.ok) return { ok: true, value: answer };
    return {
      ok: false,
      status: response.status,
      code: answer.error?.code ?? 'unknown',
      message: answer.error?.message ?? `The server answered ${response.status}`,
    };
  } catch (cause) {
    if (signal?.aborted) return { ok: false, status: 0, code: 'aborted', message: 'Overtaken by a newer request' };
    console.debug('request failed', cause);
    return { ok: false, status: 0, code: 'network', message: 'The studio cannot be reached. Nothing is lost; try again in a moment.' };
  }
}
