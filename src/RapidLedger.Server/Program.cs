using System.CommandLine;
using RapidLedger.Server.Commands;

var root = new RootCommand("Rapid Ledger: write promotion rules and see at once how they price a cart.")
{
    ServeCommand.Create(),
    PriceCommand.Create(),
    CheckCommand.Create(),
};
return await root.Parse(args).InvokeAsync();
