/**
 * What a file is called that keeps an entry: its identifier, with what a file system cannot hold, or takes for something
 * else, percent-encoded (RFC 3986). It reads back as the same identifier.
 */
export const fileNameOf = (id: string): string => {
  if (deviceName.test(id)) return encoded(id.charAt(0)) + id.slice(1);
  return id.replace(/[%<>:"\\|?*]|^[.~]|[. ]$/gu, (character) => encoded(character));
};

/** Names that stand for devices on some systems, whatever the ending. */
const deviceName = /^(?:con|prn|aux|nul|com\d|lpt\d)(?:\.|$)/iu;

const encoded = (text: string): string =>
  [...new TextEncoder().encode(text)].map((byte) => `%${byte.toString(16).toUpperCase().padStart(2, '0')}`).join('');

/** The identifier that the name of a file says, without its ending. */
export function idOfFileName(name: string): string {
  if (!name.includes('%')) return name.normalize('NFC');
  return name.normalize('NFC').replace(/(?:%[0-9A-F]{2})+/gu, (bytes) => {
    try {
      return decodeURIComponent(bytes);
    } catch {
      return bytes;
    }
  });
}

/** How many bytes the name of a file may have, its ending among them, on usual file systems. */
export const fileNameLimit = 255;

/** What two identifiers have in common that some file systems take for one: capitals and the form of accents. */
export const foldedId = (id: string): string => id.normalize('NFC').toLowerCase().normalize('NFC');
