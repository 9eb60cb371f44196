export default function Loading() {
  return (
    <div className="grid gap-3 p-6" role="status" aria-label="Loading">
      <div className="skeleton h-8 w-64" />
      {Array.from({ length: 8 }, (_, index) => (
        <div key={index} className="skeleton h-11" />
      ))}
    </div>
  );
}
