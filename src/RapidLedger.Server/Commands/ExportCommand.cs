using System.CommandLine;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>export</c>: writes a whole shop as files, also beside a running server.</summary>
internal static class ExportCommand
{
    public static Command Create()
    {
        var to = new Argument<string>("TO") { Description = "A folder, or a file that ends in .zip." };
        var data = DataOption.Create();
        var stock = new Option<bool>("--stock") { Description = "With what is left of each item." };
        var shoppers = new Option<bool>("--shoppers") { Description = "With the shoppers." };
        var codes = new Option<bool>("--codes") { Description = "With the codes of batches, and what was used of them." };
        var orders = new Option<bool>("--orders") { Description = "With the orders, which come in elsewhere as orders from before." };
        var all = new Option<bool>("--all") { Description = "With all of these." };
        var command = new Command(
            "export",
            "Writes the whole shop as files: settings, goods, promotions, batches, carts. The same shop gives the same bytes, so that it can be kept under version control."
        )
        {
            to,
            data,
            stock,
            shoppers,
            codes,
            orders,
            all,
        };
        command.SetAction(parsed =>
        {
            bool Wants(Option<bool> part) => parsed.GetValue(all) || parsed.GetValue(part);
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            var clock = ProgramClock.Machine;
            var export = new ShopExport(
                OpenShop.Of(database, clock),
                new(database),
                new(database, clock),
                new(database, clock),
                new(new(database), new(database))
            );
            try
            {
                var count = ArchiveFolder.Write(
                    export.Files(new(Wants(stock), Wants(shoppers), Wants(codes), Wants(orders))),
                    parsed.GetRequiredValue(to)
                );
                Console.WriteLine($"{count} files written to {parsed.GetRequiredValue(to)}");
                return 0;
            }
            catch (Exception error) when (error is IOException or UnauthorizedAccessException)
            {
                throw new StorageFault($"{parsed.GetRequiredValue(to)} cannot be written: {error.Message}", inner: error);
            }
        });
        return command;
    }
}
