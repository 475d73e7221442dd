/** A message about something that went wrong, at the place where it did. */
export function Trouble({
  error,
  className = "",
}: {
  error: { message: string } | null | undefined;
  className?: string;
}) {
  if (!error) return null;
  return (
    <div className={`trouble ${className}`} role="alert">
      {error.message}
    </div>
  );
}
