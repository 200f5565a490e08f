import { describe, expect, it } from '@jest/globals';
import { isLead, leadOf } from './lead.ts';

describe('an address that words lead to', () => {
  it.each([
    ['brackwater.example/counts', 'https://brackwater.example/counts'],
    [' https://brackwater.example ', 'https://brackwater.example'],
    ['tam@brackwater.example', 'mailto:tam@brackwater.example'],
    ['mailto:tam@brackwater.example', 'mailto:tam@brackwater.example'],
    ['tel:+15550100', 'tel:+15550100'],
    ['server:8080/counts', 'https://server:8080/counts'],
    ['HTTP://A.EXAMPLE', 'HTTP://A.EXAMPLE'],
  ])('is meant by “%s”', (typed, meant) => expect(leadOf(typed)).toBe(meant));

  it.each([
    '',
    '  ',
    'javascript:alert(1)',
    'data:text/html,<b>',
    'file:///etc/hosts',
    'two words',
    'vbscript:x',
  ])('is not meant by “%s”', (typed) => expect(leadOf(typed)).toBeNull());

  it('runs nothing, however it is written', () => {
    for (const address of [
      'JavaScript:alert(1)',
      ' javascript:alert(1)',
      'java\nscript:alert(1)',
      '//a.example',
    ]) {
      expect(isLead(address)).toBe(false);
    }
  });
});
