import type { DocumentDetail, Tether } from '@tether/contract';
import type { DocumentContent, KindName } from '@tether/documents';
import { type ComponentType, lazy } from 'react';
import type { Anchor, Surface } from '../documents/surface.ts';
import type { SharedWith } from '../documents/writing/shared-document.ts';
import { Thumbnail, WholeText } from '../report/Thumbnail.tsx';
import type { Incoming } from '../sources/carried.ts';

/** What a kind of document is on the screen. Everything else about documents is the same for all kinds. */
interface KindScreens<Content = DocumentContent> {
  /** The open document. It tells its surface as soon as it is there, and what cells are dropped on it or pasted into it. */
  Screen: ComponentType<{
    saved: DocumentDetail;
    /** The document as everybody writes it. */
    shared: SharedWith;
    onSurface: (surface: Surface | null) => void;
    onCells: (incoming: Incoming, at?: Anchor) => void;
  }>;
  /** Said where no object stands in it yet: how one comes in. */
  emptyWords: string;
  /** What is chosen in it besides objects, at the head of the panel. */
  Chosen?: ComponentType<{ surface: Surface; objects: readonly Tether[]; isAllowed: boolean }>;
  /** Where an object stands in it, as a section of its panel. */
  ObjectPlace?: ComponentType<{
    documentId: string;
    surface: Surface;
    tetherId: string;
    isAllowed: boolean;
  }>;
  /** What else of the document a refresh of an object concerns, below its changes in the change slip. */
  AlsoChanged?: ComponentType<{
    documentId: string;
    surface: Surface;
    tether: Tether;
    isAllowed: boolean;
  }>;
  /** What is settled once for the document, as sections of the panel. */
  Settings: ComponentType<{ surface: Surface; objects: readonly Tether[]; isAllowed: boolean }>;
  /** A small picture of its beginning. */
  Thumbnail: ComponentType<{ documentId: string; content: Content }>;
  /** All of it, only to be looked at. */
  Whole: ComponentType<{ documentId: string; content: Content }>;
  /** What differs between two states of it. */
  Compared: ComponentType<{ documentId: string; before: Content; after: Content }>;
  /** While it is shown to others, of kinds that are. */
  Present?: ComponentType<{ saved: DocumentDetail<Content> }>;
  /** As it will be printed. */
  Print: ComponentType<{ saved: DocumentDetail<Content> }>;
}

/** The content that a screen is given is of its kind: the document says so, and the server has checked it. */
function ofKind<Content>(screens: KindScreens<Content>): KindScreens {
  return screens as unknown as KindScreens;
}

/** The screens of every kind of document. What it is beside its screens is said in the registry of `documents`. */
export const KIND_SCREENS: Record<KindName, KindScreens> = {
  report: ofKind({
    emptyWords: 'None yet. Put the cursor where a table should stand and press Place.',
    Screen: lazy(async () => ({
      default: (await import('../report/ReportScreen.tsx')).ReportScreen,
    })),
    Settings: lazy(async () => ({
      default: (await import('../report/ReportSettings.tsx')).ReportSettingsFields,
    })),
    Thumbnail,
    Whole: WholeText,
    Compared: lazy(async () => ({ default: (await import('../report/Compared.tsx')).Compared })),
    Print: lazy(async () => ({ default: (await import('../report/PrintPage.tsx')).PrintPage })),
  }),
  drawing: ofKind({
    emptyWords: 'None yet. Press Place: it goes into the corner of the frame, and can be moved.',
    Screen: lazy(async () => ({
      default: (await import('../drawing/DrawingScreen.tsx')).DrawingScreen,
    })),
    Chosen: lazy(async () => ({
      default: (await import('../drawing/DrawingSettings.tsx')).ChosenOnSheet,
    })),
    ObjectPlace: lazy(async () => ({
      default: (await import('../page/panel/ThingFields.tsx')).ObjectPlaceFold,
    })),
    AlsoChanged: lazy(async () => ({
      default: (await import('../page/plan/MarksInSlip.tsx')).MarksInSlip,
    })),
    Settings: lazy(async () => ({
      default: (await import('../drawing/DrawingSettings.tsx')).DrawingSettingsFields,
    })),
    Thumbnail: lazy(async () => ({
      default: (await import('../drawing/DrawingViews.tsx')).DrawingThumbnail,
    })),
    Whole: lazy(async () => ({
      default: (await import('../drawing/DrawingViews.tsx')).WholeDrawing,
    })),
    Compared: lazy(async () => ({
      default: (await import('../page/still/ComparedPages.tsx')).ComparedPages,
    })),
    Print: lazy(async () => ({
      default: (await import('../drawing/DrawingViews.tsx')).DrawingPrint,
    })),
  }),
  slides: ofKind({
    emptyWords: 'None yet. Press Place: it goes onto the slide, and can be moved.',
    Screen: lazy(async () => ({
      default: (await import('../slides/SlidesScreen.tsx')).SlidesScreen,
    })),
    Chosen: lazy(async () => ({
      default: (await import('../slides/SlidesSettings.tsx')).ChosenOnSlide,
    })),
    ObjectPlace: lazy(async () => ({
      default: (await import('../page/panel/ThingFields.tsx')).ObjectPlaceFold,
    })),
    Settings: lazy(async () => ({
      default: (await import('../slides/SlidesSettings.tsx')).SlidesSettingsFields,
    })),
    Thumbnail: lazy(async () => ({
      default: (await import('../slides/SlidesViews.tsx')).SlidesThumbnail,
    })),
    Whole: lazy(async () => ({
      default: (await import('../slides/SlidesViews.tsx')).WholeDeck,
    })),
    Compared: lazy(async () => ({
      default: (await import('../page/still/ComparedPages.tsx')).ComparedPages,
    })),
    Present: lazy(async () => ({ default: (await import('../slides/Present.tsx')).Present })),
    Print: lazy(async () => ({
      default: (await import('../slides/SlidesViews.tsx')).SlidesPrint,
    })),
  }),
};
