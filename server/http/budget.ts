/**
 * Shares out something scarce, such as memory: whoever finds too little left waits in turn. One that asks for more than there
 * is gets all of it, alone.
 */
export class Budget {
  private left: number;
  private readonly waiting: { amount: number; go: () => void }[] = [];

  constructor(private readonly most: number) {
    this.left = most;
  }

  /**
   * Takes an amount as soon as it is there, in the order of asking.
   * @param patienceMs how long to wait at most
   * @returns gives it back; null when it was not there in time
   */
  async take(amount: number, patienceMs: number): Promise<(() => void) | null> {
    const wanted = Math.min(amount, this.most);
    if (this.waiting.length > 0 || wanted > this.left) {
      const came = await this.turn(wanted, patienceMs);
      if (!came) return null;
    } else this.left -= wanted;
    let given = false;
    return () => {
      if (given) return;
      given = true;
      this.left += wanted;
      this.letIn();
    };
  }

  private turn(amount: number, patienceMs: number): Promise<boolean> {
    return new Promise((resolve) => {
      const entry = {
        amount,
        go: () => {
          clearTimeout(timer);
          resolve(true);
        },
      };
      const timer = setTimeout(() => {
        this.waiting.splice(this.waiting.indexOf(entry), 1);
        resolve(false);
        // Those behind may want less.
        this.letIn();
      }, patienceMs);
      this.waiting.push(entry);
    });
  }

  private letIn(): void {
    for (let next = this.waiting[0]; next && next.amount <= this.left; next = this.waiting[0]) {
      this.waiting.shift();
      this.left -= next.amount;
      next.go();
    }
  }
}
