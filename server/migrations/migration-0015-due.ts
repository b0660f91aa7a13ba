/** An inquiry may begin with its question alone: then nothing is due. */
export const due: string[] = ['ALTER TABLE inquiries MODIFY due DATE NULL']
