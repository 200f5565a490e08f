/** An attribute that marks words which stand there for other programs; a text of ours makes them anew. */
export const FOR_OTHERS = 'data-for-others';
