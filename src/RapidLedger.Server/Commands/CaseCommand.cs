using System.CommandLine;
using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Tape;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>case</c>: the live rules as a case, for a pipeline to add carts to.</summary>
internal static class CaseCommand
{
    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true };

    public static Command Create()
    {
        var data = DataOption.Create();
        var command = new Command(
            "case",
            "Prints the live rules of a store with its goods and settings as a case with an empty cart: put a cart and what it must come to in, and check it."
        )
        {
            data,
        };
        command.SetAction(parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            var (clock, shop) = (ProgramClock.Machine, OpenShop.Of(database, ProgramClock.Machine));
            if (new ShopRepository(database).Find() is not { } stored)
                throw new StorageFault("There is no shop in this store yet.");
            var cart = new JsonObject { ["lines"] = new JsonArray() };
            var read = shop.ReadCart(cart, clock.GetCurrentInstant()).Value!;
            Console.WriteLine(
                LiveCase.Of(shop, stored, cart, read, null, new(database, clock), new(database, clock)).ToJsonString(Indented)
            );
            return 0;
        });
        return command;
    }
}
