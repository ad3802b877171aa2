/** Work that must not stand in the way of the first page. */
import { queryClient } from "../api/hooks";

/** Whether nothing is being asked for now. */
export const fetchesNothing = () => !queryClient.isFetching();

/** Do something once what the page asked for has come and it is painted. Returns what calls it off. */
export function whenItStands(then: () => void) {
  const cache = queryClient.getQueryCache();
  let over = false;
  const finish = () => {
    over = true;
    stop();
  };
  const look = () => {
    if (over || document.readyState !== "complete" || queryClient.isFetching()) return;
    finish();
    requestAnimationFrame(() => setTimeout(then));
  };
  const stopWatching = cache.subscribe(look);
  window.addEventListener("load", look);
  const stop = () => {
    stopWatching();
    window.removeEventListener("load", look);
  };
  look();
  return finish;
}
