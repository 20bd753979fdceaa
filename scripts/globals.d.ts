// What other scripts of a page put on the window.
declare const htmx: any;
declare const tus: any;
interface Window {
  norvik: any;
  htmx: any;
}
// A selector names what it finds: no cast at every querySelector.
interface Element {
  dataset: DOMStringMap;
  hidden: boolean;
  value: any;
  checked: boolean;
  disabled: boolean;
  content: any;
  elements: any;
  files: FileList;
  href: string;
  search: string;
  src: string;
  style: CSSStyleDeclaration;
  open: boolean;
  focus(options?: FocusOptions): void;
  click(): void;
  select(): void;
  reset(): void;
  submit(): void;
  blur(): void;
}
interface EventTarget {
  closest(selectors: string): any;
  dataset: DOMStringMap;
  value: any;
  checked: boolean;
  matches(selectors: string): boolean;
}
interface Event {
  detail: any;
}
interface EventTarget {
  id: string;
  name: string;
  blur(): void;
  querySelector(selectors: string): any;
}
interface Event {
  key: string;
}
interface HTMLElement {
  showModal(): void;
  close(): void;
  requestSubmit(): void;
}
