// Before anything is drawn: the paper that was chosen last, else the one the machine asks for.
const kept = localStorage.getItem('rapid-ledger.page');
document.documentElement.dataset.page = kept ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day');
