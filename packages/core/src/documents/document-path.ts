/** Where a node stands in a document's tree: member names and list places, as written there. */
export type DocumentPath = readonly (string | number)[];
