// Every request of htmx carries the antiforgery token; an answer that no edit should get is said so on the page.
import htmx from './htmx';
import './drawn';
import './typed';

document.addEventListener('htmx:configRequest', event => {
  const token = document.querySelector<HTMLMetaElement>('meta[name=csrf]')?.content;
  if (token) (event as CustomEvent).detail.headers['X-CSRF'] = token;
});

function say(sentence: string): void {
  const notice = document.getElementById('notice');
  if (!notice) return;
  notice.textContent = sentence;
  notice.hidden = false;
}

const tookTooLong = 503;

document.addEventListener('htmx:responseError', event => {
  const { status } = (event as CustomEvent<{ xhr: XMLHttpRequest }>).detail.xhr;
  say(status === tookTooLong
    ? 'This took too long and was stopped. Nothing that was saved is lost: shorten the span, loosen the tolerance, or take fewer parts.'
    : 'The server could not take this edit. Load the page again and repeat it; nothing that was saved is lost.');
});

export default htmx;
