// The part of idiomorph's extension for htmx that is used here; the package brings no types for it.
declare module 'idiomorph/htmx' {
  export const Idiomorph: {
    defaults: {
      callbacks: {
        beforeNodeMorphed: (old: Node, next: Node) => boolean;
        beforeAttributeUpdated: (attribute: string, element: Element) => boolean;
      };
    };
  };
}
