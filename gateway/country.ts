import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { type CountryResponse, Reader } from 'maxmind'

export type CountryOf = (address: string) => string

const DATABASE = '@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb'

/** Opens the country database that ships with the application. A country is an ISO 3166-1 alpha-2 code, or empty. */
export async function openCountries(): Promise<CountryOf> {
  const file = createRequire(import.meta.url).resolve(DATABASE)
  const reader = new Reader<CountryResponse & { country_code?: string }>(await readFile(file))
  return (address) => {
    try {
      const found = reader.get(address)
      return found?.country_code ?? found?.country?.iso_code ?? ''
    } catch {
      return ''
    }
  }
}
