using System.CommandLine;
using RapidLedger.Server.Selling;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>key</c>: makes, lists and withdraws keys of the store interface, also beside a running server.</summary>
internal static class KeyCommand
{
    public static Command Create()
    {
        var data = DataOption.Create();
        data.Recursive = true;
        var kind = new Argument<string>("KIND") { Description = "server: may place orders; page: may only ask for prices and offers." };
        kind.AcceptOnlyFromAmong(StoreCaller.Server, StoreCaller.Page);
        var name = new Option<string>("--name") { Description = "What it is for.", DefaultValueFactory = _ => "made on the command line" };
        var fresh = new Command("new", "Makes a key and prints it, alone; it is not told again.") { kind, name };
        fresh.SetAction(async parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            var (_, key) = await new StoreKeys(new(database, ProgramClock.Machine)).Make(
                parsed.GetRequiredValue(kind),
                parsed.GetRequiredValue(name)
            );
            Console.WriteLine(key);
            return 0;
        });
        var list = new Command("list", "Lists the keys: their ids, kinds and names, never the keys themselves.");
        list.SetAction(parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            foreach (var key in new KeyRepository(database, ProgramClock.Machine).All())
                Console.WriteLine(
                    $"{key.Id}  {key.Kind, -6}  {key.MadeAt}  {(key.WithdrawnAt is null ? "good" : "withdrawn")}  {key.Name}"
                );
            return 0;
        });
        var id = new Argument<string>("ID") { Description = "As listed." };
        var withdraw = new Command("withdraw", "Withdraws a key.") { id };
        withdraw.SetAction(async parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            if (await new KeyRepository(database, ProgramClock.Machine).Withdraw(parsed.GetRequiredValue(id)))
                return 0;
            Console.Error.WriteLine($"There is no good key {parsed.GetRequiredValue(id)}.");
            return 1;
        });
        return new Command("key", "Keys of the store interface.") { data, fresh, list, withdraw };
    }
}
