declare module 'opentype.js';
