import { existsSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { CityResponse, Reader, Response } from 'maxmind';
import { open } from 'maxmind';
import type { Location } from '@/core/history/visitor';

/** Where a network address is, as far as a table tells; undefined for private and unknown ones. The address is not kept. */
export type Locate = (address: string) => Promise<Location | undefined>;

type CountryRow = Response & { readonly country_code?: string };

/**
 * Opens the table of countries that ships with Crindle, and, where `cityFile` names one, a table of cities in the same
 * format. A file that is named and not there is an error: without it every place would silently be unknown.
 */
export async function openLocations(cityFile: string | undefined): Promise<Locate> {
  if (cityFile && !existsSync(cityFile)) throw new Error(`The table of cities ${cityFile} is not there`);
  const cities = cityFile ? await open<CityResponse>(cityFile) : undefined;
  const countries = await open<CountryRow>(
    createRequire(import.meta.url).resolve('@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb'),
  );
  return async (address) => {
    if (!isAddress(address)) return undefined;
    return locateCity(cities, address) ?? locateCountry(countries, address);
  };
}

function locateCity(cities: Reader<CityResponse> | undefined, address: string): Location | undefined {
  const row = cities?.get(address);
  if (!row?.country) return undefined;
  const region = row.subdivisions?.[0];
  return {
    country: row.country.iso_code,
    ...(region ? { region: region.names.en } : {}),
    ...(row.city ? { city: row.city.names.en } : {}),
    ...(row.location ? { lat: row.location.latitude, lon: row.location.longitude, accuracy: row.location.accuracy_radius * 1000 } : {}),
  };
}

function locateCountry(countries: Reader<CountryRow>, address: string): Location | undefined {
  const code = countries.get(address)?.country_code;
  return code && /^[A-Z]{2}$/.test(code) ? { country: code } : undefined;
}

const isAddress = (text: string): boolean => /^(\d{1,3}\.){3}\d{1,3}$/.test(text) || (text.includes(':') && /^[0-9a-f:.]+$/i.test(text));
