/** Of several that are asked for one after the other only the last is taken: one that comes later than a newer one rejects. */
export class Latest {
  private asked = 0;

  async take<T>(coming: Promise<T>): Promise<T> {
    const turn = ++this.asked;
    const come = await coming;
    if (turn !== this.asked) throw new Error('Another book was opened meanwhile.');
    return come;
  }
}
