/**
 * An amount raised or lowered by a percentage, exactly: half a cent counts as one.
 * @param amount digits and a point
 * @param exponent how many decimals its currency has
 * @param percent above zero raises
 * @param ending what it is to end in, such as 0.90: the next such amount that is not below; none: any
 */
export function changed(amount: string, exponent: number, percent: number, ending?: number): string {
  const unit = 10n ** BigInt(exponent);
  const [whole = '0', decimals = ''] = amount.split('.');
  const minor = BigInt(whole + decimals.padEnd(exponent, '0').slice(0, exponent));
  // Percentages have at most four decimals.
  const factor = 1_000_000n + BigInt(Math.round(percent * 10_000));
  let next = (minor * factor * 2n + 1_000_000n) / 2_000_000n;
  if (next < 0n) next = 0n;
  if (ending !== undefined) {
    const tail = BigInt(Math.round(ending * Number(unit)));
    // What one amount of that ending is from the next: .90 comes once in a whole unit, 9.90 once in ten.
    let step = unit;
    while (step <= tail) step *= 10n;
    next += (((tail - next) % step) + step) % step;
  }
  const text = next.toString().padStart(exponent + 1, '0');
  return exponent === 0 ? text : `${text.slice(0, -exponent)}.${text.slice(-exponent)}`;
}
