/** Who stands where, to be taken out: another program can then use the same patients. */
export function AllocationFile({ studyId, divided }: { studyId: string; divided: boolean }) {
  if (!divided) return null;
  return (
    <p>
      <a href={`/api/studies/${studyId}/allocation`} download>
        Save who is on which side and in which fold
      </a>
    </p>
  );
}
