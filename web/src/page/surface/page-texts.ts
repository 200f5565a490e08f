import { roundMm } from '@tether/core';
import {
  changeValues,
  type Form,
  isPlain,
  isSame,
  type ObjectThing,
  plainRich,
  type RichBlock,
  type RichInline,
  richOf,
  richWords,
  type TextThing,
  type Thing,
  thingSchema,
  valueIn,
  withAtEnd,
} from '@tether/documents';
import type { PageDocument } from './page-document.ts';
import type { ShownPages } from './shown-pages.ts';
import { STEP_ASIDE } from './stands.ts';

/** Where the caret was in a text that was written in. */
export interface TextCaret {
  of: string;
  /** What the text said then. */
  blocks: RichBlock[];
  /** What it says with something put there; null where that cannot be. */
  with: (inline: RichInline) => RichBlock[] | null;
}

/** Pages with what is written on them: their texts, and the values in the lines of these. */
export class PageTexts {
  private caret: TextCaret | null = null;
  private readonly pages: PageDocument;

  constructor(private readonly shown: ShownPages) {
    this.pages = shown.pages;
    shown.whenChosen(() => {
      this.caret = null;
    });
  }

  /** Whether something can be put into a line, where somebody wrote. */
  get hasCaret(): boolean {
    return this.caret !== null;
  }

  /** The text in whose line a value stands; null for one that stands for itself. */
  textOf(thing: Thing): TextThing | null {
    const text = thing.kind === 'object' && thing.within ? this.pages.thing(thing.within) : null;
    return text?.kind === 'text' ? text : null;
  }

  /** The values that stand in the lines of a text. */
  valuesIn(textId: string): ObjectThing[] {
    return this.pages
      .things()
      .filter((each): each is ObjectThing => each.kind === 'object' && each.within === textId);
  }

  /** Things with the values in the lines of those that are texts. */
  withValues(things: readonly Thing[]): Thing[] {
    const all = new Map(things.map((thing) => [thing.id, thing]));
    for (const { id, kind } of things) {
      if (kind === 'text') for (const value of this.valuesIn(id)) all.set(value.id, value);
    }
    return [...all.values()];
  }

  /** Takes a thing out: a text with the values in its lines, a value out of its line. A part of a step. */
  takeOut(thing: Thing, instead: RichInline | null = null): void {
    this.pages.remove(thing.id);
    if (thing.kind === 'text') for (const { id } of this.valuesIn(thing.id)) this.pages.remove(id);
    const text = this.textOf(thing);
    if (thing.kind !== 'object' || !text) return;
    const { tetherId } = thing;
    this.setRich(
      text,
      changeValues(richOf(text), (id) => (id === tetherId ? instead : valueIn(id))),
    );
  }

  /** Says what a text says. A part of a step. */
  setRich(text: TextThing, blocks: RichBlock[]): void {
    this.pages.change(text.id, { text: richWords(blocks), rich: kept(blocks) });
  }

  /**
   * Keeps what is being written so far, so that nothing of it is lost with its window; true where it was kept. What a
   * colleague wrote meanwhile is not written over: that is told when writing ends. All of one `writing` is one step of undo.
   */
  keepWriting(from: TextThing, blocks: RichBlock[], writing: string): boolean {
    const now = this.pages.thing(from.id);
    const isOurs = now?.kind === 'text' && isSame(richOf(now), richOf(from));
    if (!this.shown.isEditable || !isOurs || richWords(blocks).trim() === '') return false;
    this.pages.step(() => this.setRich(now, blocks), writing, true);
    return true;
  }

  /**
   * Takes what was written in a text; null where nothing was. `from` is the text as it was when writing began: what somebody
   * else wrote in it meanwhile stays, and both are told; one that somebody took out comes back with what was written. A value
   * that stands twice in it then gets a tether of its own there; one that does not stand in it any more goes. A text without
   * words is nothing that could be seen or found again, unless it waits for them. `writing`: what of it was kept already, by
   * `keepWriting`.
   */
  written(from: TextThing, written: RichBlock[] | null, writing: string | null = null): void {
    const { id } = from;
    const now = this.pages.thing(id);
    const before = richOf(from);
    const blocks = written ?? before;
    const isEmpty = richWords(blocks).trim() === '';
    const isNothing = writing === null && isSame(blocks, before) && !isEmpty;
    if (!this.shown.isEditable || isNothing) return;
    const text = now?.kind === 'text' ? now : from;
    if (now?.kind === 'text' && !isSame(richOf(now), before) && !isSame(richOf(now), blocks)) {
      const said = { list: 'things', id } as const;
      const mine = richWords(blocks);
      this.pages.collide({ ...said, property: 'text', mine, theirs: now.text });
      this.pages.collide({ ...said, property: 'rich', mine: kept(blocks), theirs: now.rich });
      return;
    }
    this.pages.step(
      () => {
        if (now === null && !isEmpty) this.pages.add(from);
        if (isEmpty && text.role === null) {
          this.takeOut(text);
          return;
        }
        const seen = new Set<string>();
        const clean = changeValues(blocks, (tetherId) => {
          const value = this.pages.objectThing(tetherId);
          if (!value) return null;
          if (!seen.has(tetherId)) {
            seen.add(tetherId);
            return valueIn(tetherId);
          }
          const own = crypto.randomUUID();
          const copyOf = value.copyOf ?? tetherId;
          this.pages.add({ ...value, ...this.shown.fresh(), tetherId: own, copyOf, within: id });
          this.shown.dress(own, this.shown.dressings.of(tetherId), true);
          seen.add(own);
          return valueIn(own);
        });
        for (const value of this.valuesIn(id)) {
          if (!seen.has(value.tetherId)) this.pages.remove(value.id);
        }
        for (const tetherId of seen) {
          const value = this.pages.objectThing(tetherId);
          if (value && value.within !== id)
            this.pages.change(value.id, { within: id, field: null });
        }
        this.setRich(text, clean);
      },
      writing,
      true,
    );
  }

  /** Where something can be put into a text that was written in, until something else is chosen. */
  setCaret(caret: TextCaret | null): void {
    this.caret = caret;
  }

  /** Puts a value into the line of a text, at its end, or takes it out to a place of its own (null). */
  putInText(tetherId: string, textId: string | null): void {
    const thing = this.pages.objectThing(tetherId);
    if (!thing || !this.shown.isFree(thing) || thing.within === textId) return;
    const text = textId === null ? null : this.pages.thing(textId);
    const from = this.textOf(thing);
    this.pages.step(() => {
      if (from) {
        this.setRich(
          from,
          changeValues(richOf(from), (id) => (id === tetherId ? null : valueIn(id))),
        );
      }
      const place = from ? { x: from.x, y: roundMm(from.y - STEP_ASIDE) } : {};
      this.pages.change(thing.id, { ...place, within: textId, field: null, below: null });
      if (text?.kind === 'text') this.setRich(text, withAtEnd(richOf(text), valueIn(tetherId)));
    });
  }

  /** Puts a new value where the caret was in a text. False where that text is gone. */
  insertInText(object: { id: string; form: Form }): boolean {
    const { caret } = this;
    const text = caret && this.pages.thing(caret.of);
    if (!caret || text?.kind !== 'text' || !this.shown.isFree(text)) return false;
    const value = valueIn(object.id);
    // Changed meanwhile, it takes the value at its end.
    const blocks =
      (isSame(caret.blocks, richOf(text)) ? caret.with(value) : null) ??
      withAtEnd(richOf(text), value);
    const { x, y } = text;
    const thing = thingSchema.parse({
      ...{ ...this.shown.fresh(), kind: 'object', x, y, within: text.id, layer: text.layer },
      ...{ tetherId: object.id, form: object.form },
    });
    this.pages.step(() => {
      this.pages.add(thing);
      this.setRich(text, blocks);
    });
    this.shown.choose([thing.id]);
    return true;
  }
}

/** What is kept of written blocks beside their words: nothing where they are no more than these. */
function kept(blocks: RichBlock[]): RichBlock[] | null {
  const isWords = isPlain(blocks) && isSame(plainRich(richWords(blocks)), blocks);
  return isWords ? null : blocks;
}
