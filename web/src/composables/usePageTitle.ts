import { watchEffect } from 'vue'

/** Names the page in the browser's tab, most particular first, once what it shows is known. */
export function usePageTitle(parts: () => (string | undefined)[]) {
  watchEffect(() => {
    const known = parts().filter(Boolean)
    if (known.length) document.title = [...known, 'Braxel'].join(' · ')
  })
}
