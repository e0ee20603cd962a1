// Every request of htmx carries the antiforgery token; an answer that no edit should get is said so on the page.
import htmx from './htmx';
import './drawn';
import './typed';

document.addEventListener('htmx:configRequest', event => {
  const token = document.querySelector<HTMLMetaElement>('meta[name=csrf]')?.content;
  const { headers, parameters } = (event as CustomEvent<{ headers: Record<string, string>; parameters: Record<string, string> }>).detail;
  if (token) headers['X-CSRF'] = token;
  // Fields that go with every request of a page, each found by its id: a list of selectors would walk all of a long page.
  const ids = (event.target as Element).closest<HTMLElement>('[data-with]')?.dataset.with?.split(' ') ?? [];
  for (const id of ids) {
    const field = document.getElementById(id) as HTMLInputElement | HTMLSelectElement | null;
    if (field && !field.disabled && !(field.name in parameters)) parameters[field.name] = field.value;
  }
});

function say(sentence: string): void {
  const notice = document.getElementById('notice');
  if (!notice) return;
  notice.textContent = sentence;
  notice.hidden = false;
}

const otherwise = 'The server could not take this edit. Load the page again and repeat it; nothing that was saved is lost.';

/** What an answer that is no answer means, by its status. */
const meanings: Record<number, string> = {
  503: 'This took too long and was stopped. Nothing that was saved is lost: shorten the span, loosen the tolerance, or take fewer parts.',
  507: 'This could not be saved: the disk is full, or the data folder cannot be written. Make room, then do it again; what you typed is still here.',
};

type Answer = CustomEvent<{ xhr: XMLHttpRequest; successful: boolean; requestConfig: { verb: string; path: string } }>;

/** What was asked when the notice was written: once the same is answered, it is no longer true. */
let asked = '';
const of = ({ detail }: Answer): string => `${detail.requestConfig.verb} ${detail.requestConfig.path}`;

document.addEventListener('htmx:responseError', event => {
  asked = of(event as Answer);
  say(meanings[(event as Answer).detail.xhr.status] ?? otherwise);
});

document.addEventListener('htmx:afterRequest', event => {
  const notice = document.getElementById('notice');
  if (!notice || !asked || !(event as Answer).detail.successful || of(event as Answer) !== asked) return;
  asked = '';
  notice.textContent = '';
  notice.hidden = true;
});

export default htmx;
