/** Files that a picture may be chosen from. */
export const PICTURE_TYPES =
  '.png,.jpg,.jpeg,.webp,.svg,.pdf,image/png,image/jpeg,image/webp,image/svg+xml,application/pdf';
