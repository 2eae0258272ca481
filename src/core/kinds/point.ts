import { isList, isObject, ownValue } from '../plain/json.ts';
import { defineKind } from './define.ts';

/** A place on the earth: degrees of WGS 84, latitude and longitude by name, so that their order is never guessed. */
export const point = defineKind({
  name: 'point',
  about: 'A place on the earth, as { lat: 57.1, lon: -6.3 } in degrees.',
  guide: {
    en: 'A place on the earth: latitude and longitude',
    de: 'Ein Ort auf der Erde: Breite und Länge',
    fr: 'Un lieu sur la terre : latitude et longitude',
    es: 'Un lugar de la tierra: latitud y longitud',
    it: 'Un luogo sulla terra: latitudine e longitudine',
    nl: 'Een plaats op aarde: breedte en lengte',
  },
  options: {},
  example: { options: {}, value: { lat: 57.1, lon: -6.3 } },
  check: () => (value, report) => {
    if (!isObject(value)) {
      const isPair = isList(value) && value.length === 2 && value.every((part) => typeof part === 'number');
      return report(isPair ? 'not-a-point:pair' : 'not-a-point', {});
    }

    for (const [name, most] of [
      ['lat', 90],
      ['lon', 180],
    ] as const) {
      const degrees = ownValue(value, name);
      if (typeof degrees !== 'number' || !Number.isFinite(degrees))
        report('not-a-point:missing', { name }, { inside: [name] });
      else if (Math.abs(degrees) > most)
        report('not-a-point:outside', { name, degrees, most }, { limit: most, inside: [name] });
    }

    for (const key of Object.keys(value))
      if (key !== 'lat' && key !== 'lon') report('not-a-point:key', { key }, { inside: [key] });
  },
  changed: {},
  from: {
    text: (value) => {
      const [, lat, lon] = /^lat\D*(-?\d+(?:\.\d+)?)\D+lon\D*?(-?\d+(?:\.\d+)?)$/iu.exec(String(value).trim()) ?? [];
      if (lat === undefined || lon === undefined) return { problem: 'which number is the latitude cannot be told' };
      return { value: { lat: Number(lat), lon: Number(lon) } };
    },
  },
  graphql: {
    name: 'Point',
    definition: '"A place on the earth (WGS 84), in degrees."\ntype Point {\n  lat: Float!\n  lon: Float!\n}\n',
  },
  stores: () => ({
    is: 'keys',
    keys: { lat: { is: 'number', min: -90, max: 90 }, lon: { is: 'number', min: -180, max: 180 } },
  }),
  cel: { type: 'dyn', parts: { lat: 'double', lon: 'double' } },
  glance: 0,
  takesLists: true,
  say: (value) => {
    const { lat, lon } = isObject(value) ? value : {};
    if (typeof lat === 'number' && typeof lon === 'number')
      return `${degrees(lat, 'N', 'S')} ${degrees(lon, 'E', 'W')}`;
    return undefined;
  },
});

const degrees = (value: number, plus: string, minus: string): string =>
  `${Math.abs(value)}° ${value < 0 ? minus : plus}`;
