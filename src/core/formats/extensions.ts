/** Endings of the files that are read, for choosers and folders. */
export const READ_EXTENSIONS = ['exr', 'hdr', 'tif', 'tiff', 'png', 'jpg', 'jpeg', 'pfm'] as const;
