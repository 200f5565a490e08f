import { type BaseQueryFn, createApi } from '@reduxjs/toolkit/query/react';
import { faultResponseSchema } from '@tether/contract';
import { type Fault, fault } from '@tether/core';

/** A request as the endpoints write it. @public The store’s type names it. */
export interface ApiRequest {
  url: string;
  method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  body?: unknown;
}

/** Asks the server; every failure, also of the network, arrives as a fault. */
export const askServer: BaseQueryFn<ApiRequest, unknown, Fault> = async (
  { url, method, body },
  { signal },
) => {
  let response: Response;
  try {
    response = await fetch(`/api${url}`, {
      method: method ?? 'GET',
      signal,
      ...(body === undefined
        ? {}
        : body instanceof Blob
          ? { body }
          : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    return { error: fault('unexpected', { detail: 'the server cannot be reached' }) };
  }
  const data: unknown = response.status === 204 ? null : await response.json().catch(() => null);
  if (response.ok) return { data };
  const parsed = faultResponseSchema.safeParse(data);
  const detail = `the server answered ${response.status}`;
  return { error: parsed.success ? parsed.data.fault : fault('unexpected', { detail }) };
};

/** A question as parameters of an address; what is not said is left out. */
export function asParameters(query: object): URLSearchParams {
  const words = Object.entries(query).filter(([, value]) => value !== undefined && value !== '');
  return new URLSearchParams(words.map(([key, value]) => [key, String(value)]));
}

export const TAGS = [
  'Me',
  'Documents',
  'Document',
  'Versions',
  'Tethers',
  'Edits',
  'NeedsYou',
  'Ledger',
  'Views',
  'History',
  'Jobs',
  'Sources',
  'Contents',
  'Cells',
  'Entries',
  'Log',
  'Office',
] as const;

/**
 * What the screens ask of the server, but for what is read out of sources. Its questions stand by subject in the files beside
 * this one. Live events say by tag what must be asked again.
 */
export const api = createApi({
  baseQuery: askServer,
  tagTypes: TAGS,
  endpoints: () => ({}),
});

/** The fault behind a failed request, whatever form the failure took. */
export function faultOf(error: unknown): Fault {
  const known = faultResponseSchema.shape.fault.safeParse(error);
  return known.success ? known.data : fault('unexpected', { detail: 'the request failed' });
}
