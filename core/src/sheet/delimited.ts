/** The encodings that delimited text comes in, by their names in the WHATWG Encoding Standard. */
export const ENCODINGS = [
  'utf-8',
  'utf-16le',
  'utf-16be',
  'windows-1252',
  'iso-8859-15',
  'macintosh',
  'windows-1250',
  'iso-8859-2',
  'windows-1251',
  'koi8-r',
  'windows-1253',
  'windows-1254',
  'windows-1255',
  'windows-1256',
  'windows-1257',
  'windows-1258',
  'shift_jis',
  'euc-jp',
  'gb18030',
  'big5',
  'euc-kr',
] as const;
export type Encoding = (typeof ENCODINGS)[number];

export const DELIMITERS = [',', ';', '\t', '|'] as const;
export type Delimiter = (typeof DELIMITERS)[number];

/** How a delimited text is read. */
export interface DelimitedReading {
  encoding: Encoding;
  delimiter: Delimiter;
  /** What stands around fields that hold a delimiter or a line end; none in texts where quotes are letters. */
  quote: '"' | "'" | 'none';
  /** The decimal mark. */
  decimal: '.' | ',';
  /** Order in dates with slashes; `by column` looks at each column and reads a date only where the order can be told. */
  dates: 'by column' | 'day first' | 'month first' | 'as text';
}

/** How a text was found to be written, and what somebody decided otherwise. */
export interface DelimitedGuess {
  guessed: DelimitedReading;
  overruled: Partial<DelimitedReading>;
}
