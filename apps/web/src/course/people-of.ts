/** What is read anew when the people of a course change. */
export const peopleOf = (course: string): unknown[][] => [
  ['members', course],
  ['class'],
  ['results'],
  ['submission'],
  ['lab'],
  ['courses'],
];
