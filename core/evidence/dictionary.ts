/** Texts by small numbers, from 1 on; 0 stands for none. */
export class Dictionary {
  readonly texts: string[] = ['']
  private readonly numbers = new Map<string, number>()

  /** The number of a text, which is given one at its first time. */
  numberOf(text: string | null): number {
    if (text === null || text === '') return 0
    let number = this.numbers.get(text)
    if (number === undefined) {
      number = this.texts.length
      this.texts.push(text)
      this.numbers.set(text, number)
    }
    return number
  }

  /** The number of a text that may not be there. */
  find(text: string): number | undefined {
    return this.numbers.get(text)
  }

  get size(): number {
    return this.texts.length
  }

  /** What holds for each text, computed once: what is asked of very many rows is looked up instead. */
  table(holds: (text: string) => boolean): Uint8Array {
    const table = new Uint8Array(this.texts.length)
    for (let number = 1; number < table.length; number++) table[number] = holds(this.texts[number]!) ? 1 : 0
    return table
  }
}

/** Numbers that become more: as quick to read as an array of the kind it is made of. */
export class Growing<Values extends Uint8Array | Uint32Array | Float64Array> {
  values: Values

  constructor(private readonly make: (length: number) => Values) {
    this.values = make(1024)
  }

  set(index: number, value: number): void {
    if (index >= this.values.length) {
      const larger = this.make(Math.max(index + 1, this.values.length * 2))
      larger.set(this.values)
      this.values = larger
    }
    this.values[index] = value
  }
}
