import { describe, expect, it } from '@jest/globals';
import { ENCODINGS, type Encoding } from '@tether/core';
import iconv from 'iconv-lite';
import { decodeText, guessEncoding } from './decode.ts';

/** Tables of a few plots, in the words of the parts of the world that write in these encodings. */
const TEXTS: [Encoding, string][] = [
  [
    'windows-1252',
    'Fläche;Gepflanzt;Überlebt\nNördlicher Bach;150;130\nSüdlicher Bach – “alt”;80;71\n',
  ],
  ['windows-1252', 'Plot,Cost\nSC-01,£150\nSC-02,£80\n'],
  ['windows-1252', 'Parcelle;Planté;Survécu\nRuisseau du nord;150;130\nRuisseau d’été;80;71\n'],
  ['windows-1252', 'Plot,Note\nSC-01,it’s dry\nSC-02,don’t plant\nSC-03,won’t hold – yet\n'],
  ['macintosh', 'Fläche;Gepflanzt;Überlebt\nNördlicher Bach;150;130\nSüdlicher Bach;80;71\n'],
  [
    'windows-1250',
    'Działka;Posadzone;Przeżyło\nPołudniowy strumień środkowy;150;130\nŁącznie;230;201\n',
  ],
  [
    'iso-8859-2',
    'Działka;Posadzone;Przeżyło\nPołudniowy strumień środkowy;150;130\nŁącznie;230;201\n',
  ],
  ['windows-1251', 'Участок,Посажено,Прижилось\nСеверный ручей,150,130\nЮжный ручей,80,71\n'],
  ['koi8-r', 'Участок,Посажено,Прижилось\nСеверный ручей,150,130\nЮжный ручей,80,71\n'],
  [
    'windows-1253',
    'Τμήμα;Φυτεύτηκαν;Επέζησαν\nΒόρειο ρέμα;150;130\nΝότιο ρέμα;80;71\nΣύνολο;230;201\n',
  ],
  [
    'windows-1254',
    'Parsel;Dikilen;Yaşayan\nKuzey deresi;150;130\nGüney deresi ışığı;80;71\nToplam sayı;230;201\n',
  ],
  ['windows-1255', 'חלקה,נטועים,שרדו\nנחל צפוני,150,130\nנחל דרומי,80,71\nסך הכל,230,201\n'],
  ['windows-1256', 'القطعة,المزروع,الناجي\nالجدول الشمالي,150,130\nالجدول الجنوبي,80,71\n'],
  ['shift_jis', '地区,本数,生存\n北の入り江,150,130\n南の入り江,80,71\n合計,230,201\n'],
  ['euc-jp', '地区,本数,生存\n北の入り江,150,130\n南の入り江,80,71\n合計,230,201\n'],
  ['gb18030', '地块,种植,成活\n北溪,150,130\n南溪,80,71\n合计,230,201\n'],
  ['big5', '地塊,種植,存活\n北溪,150,130\n南溪,80,71\n合計,230,201\n'],
  ['euc-kr', '구역,심은 수,살아남은 수\n북쪽 개울,150,130\n남쪽 개울,80,71\n합계,230,201\n'],
  ['utf-16le', 'Plot,Planted\nSC-01,150\n'],
  ['utf-16be', '地区,本数\n北,150\n南,80\n'],
  ['utf-8', '地区,本数,Fläche\n北の入り江,150,130\n'],
];

describe('the encoding of a text is found by its bytes', () => {
  it.each(TEXTS)('%s: %s', (encoding, text) => {
    const bytes = iconv.encode(text, encoding);
    expect(guessEncoding(bytes)).toBe(encoding);
    expect(decodeText(bytes, encoding)).toBe(text);
  });

  it('bytes that are no text are none', () => {
    expect(guessEncoding(Buffer.from([1, 0, 0, 0, 2, 0, 0, 0, 10, 0, 3]))).toBeNull();
    expect(guessEncoding(Buffer.from('a,b\n\0\0c', 'latin1'))).toBeNull();
  });
});

describe('bytes are decoded by the tables of the WHATWG Encoding Standard', () => {
  // index-windows-1252.txt of the WHATWG Encoding Standard, bytes 80 to 9F; the bytes of the undefined ones are C1 controls.
  it('Windows-1252 from 80 to 9F', () => {
    const bytes = Buffer.from(Array.from({ length: 32 }, (_, at) => 0x80 + at));
    expect(decodeText(bytes, 'windows-1252')).toBe(
      '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ',
    );
  });

  const single = ENCODINGS.filter((name) => /^(windows|iso|koi8|mac)/.test(name));
  it.each(single)('every byte of %s as iconv-lite has it', (encoding) => {
    for (let byte = 0; byte < 256; byte++) {
      const bytes = Buffer.from([byte]);
      const [ours, theirs] = [decodeText(bytes, encoding), iconv.decode(bytes, encoding)];
      // NUL and what the other table leaves undefined (the standard fills such bytes with C1 controls, or leaves them).
      if (byte === 0 || theirs === '\ufffd') continue;
      // index-macintosh.txt has the euro here, as the encoding itself since 1998.
      if (encoding === 'macintosh' && byte === 0xdb) {
        expect(ours).toBe('€');
        continue;
      }
      // The ohm sign and the letter that it is equivalent to.
      expect([byte, ours]).toEqual([byte, theirs.normalize('NFC')]);
    }
  });

  it.each(['shift_jis', 'euc-jp', 'gb18030', 'big5', 'euc-kr'] as const)(
    'the common characters of %s as iconv-lite has them',
    (encoding) => {
      let compared = 0;
      // The kana, the syllables and the first of the unified ideographs.
      for (const [from, to] of [
        [0x3041, 0x30fa],
        [0x4e00, 0x9fa5],
        [0xac00, 0xd7a3],
      ] as const) {
        for (let code = from; code <= to; code++) {
          const text = String.fromCodePoint(code);
          const bytes = iconv.encode(text, encoding);
          if (iconv.decode(bytes, encoding) !== text || bytes[0] === 0x3f) continue;
          expect(decodeText(bytes, encoding)).toBe(text);
          compared++;
        }
      }
      expect(compared).toBeGreaterThan(4_000);
    },
  );
});
