import { useEffect, useState } from 'react'

/** Whether a row that is scrolled sideways goes on before its left and after its right end: as data attributes for its style. */
export function useOverflow(element: HTMLElement | null): { 'data-before'?: ''; 'data-after'?: '' } {
  const [ends, setEnds] = useState({ before: false, after: false })
  useEffect(() => {
    if (!element) return
    const look = () => {
      const before = element.scrollLeft > 2
      const after = element.scrollLeft + element.clientWidth < element.scrollWidth - 2
      setEnds((known) => (known.before === before && known.after === after ? known : { before, after }))
    }
    look()
    element.addEventListener('scroll', look, { passive: true })
    const sizes = new ResizeObserver(look)
    sizes.observe(element)
    const content = new MutationObserver(look)
    content.observe(element, { childList: true })
    return () => {
      element.removeEventListener('scroll', look)
      sizes.disconnect()
      content.disconnect()
    }
  }, [element])
  return { ...(ends.before ? { 'data-before': '' as const } : {}), ...(ends.after ? { 'data-after': '' as const } : {}) }
}
