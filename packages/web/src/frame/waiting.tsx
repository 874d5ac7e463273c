/** In the place of a stage until there is a design: what goes on, what went wrong, and after a while what to do about a wait. */
export function Waiting({ working, trouble }: { readonly working: string | undefined; readonly trouble: string | undefined }) {
  return (
    <div className="m-auto max-w-[46ch] p-4 text-ink2">
      <p role={trouble === undefined ? 'status' : 'alert'}>{trouble ?? working ?? 'Opening the chart'}</p>
      {trouble === undefined && (
        <p className="late mt-2">
          This takes longer than it should: a part of the page or of the browser’s storage does not answer. Reload the page; close other tabs of it
          where that does not help. What is kept stays kept.
        </p>
      )}
      <noscript>
        <p className="mt-2">This page computes everything in the browser: allow its scripts, and reload it.</p>
      </noscript>
    </div>
  );
}
