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

document.addEventListener('htmx:responseError', () => say('The server could not take this edit. Load the page again and repeat it; nothing that was saved is lost.'));

export default htmx;
