using System.Runtime.CompilerServices;

// What lies on the stack while a block is computed is written before it is read; to clear it first would cost as much as to use it.
[module: SkipLocalsInit]
