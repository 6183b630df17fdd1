using System.Runtime.CompilerServices;

// What is put on the stack is written before it is read; clearing it first would cost as much as what is done there.
[module: SkipLocalsInit]
