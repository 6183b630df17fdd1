using System.CommandLine;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>restore</c>: puts a backup in the place of a store that is not being served.</summary>
internal static class RestoreCommand
{
    public static Command Create()
    {
        var backup = new Argument<string>("BACKUP") { Description = "A file that backup wrote, of this version or an older one." };
        var data = DataOption.Create(isMade: true);
        var command = new Command(
            "restore",
            "Puts a backup in the place of a store that is not being served, and counts it anew. What was there is kept beside it."
        )
        {
            backup,
            data,
        };
        command.SetAction(parsed => Run(parsed.GetRequiredValue(backup), Path.GetFullPath(parsed.GetRequiredValue(data))));
        return command;
    }

    private static int Run(string backup, string store)
    {
        if (!File.Exists(backup))
            throw new StorageFault($"There is no backup at {Path.GetFullPath(backup)}.");
        if (Path.GetFullPath(backup) == store)
            throw new StorageFault("That is the store itself. Name a backup of it.");
        Directory.CreateDirectory(Path.GetDirectoryName(store)!);
        using var held = ServedMark.Take(store);
        if (held is null)
            throw new StorageFault(
                $"{store} is being served. Stop the program first; a backup is not put under somebody who works with it."
            );
        var beside = $"{store}.partial";
        Remove(beside);
        IReadOnlyList<string> differences;
        // A backup that is open is one file: it is copied whole, and never changed.
        using (var from = new Database(backup))
            from.CopyTo(beside);
        using (var restored = new Database(beside))
        {
            restored.Upgrade();
            if (File.Exists(store))
                new OrderRepository(restored).GoOnAbove(Newest(store));
            differences = new CounterCheck(restored).Differences();
            Remove($"{beside}.whole");
            restored.CopyTo($"{beside}.whole");
        }

        var old = $"{store}.before-restore";
        if (File.Exists(store))
        {
            Remove(old);
            // All of it in one file: what its log still holds goes along.
            using (var before = new Database(store))
                before.CopyTo(old);
        }

        Remove(beside);
        Remove(store);
        File.Move($"{beside}.whole", store);
        Console.WriteLine($"{store} is what {backup} was.{(File.Exists(old) ? $" What was there is in {old}." : "")}");
        foreach (var difference in differences)
            Console.WriteLine(difference);
        Console.WriteLine(
            differences.Count == 0 ? "All counters agree with what they count." : "These counters differ from what they count."
        );
        return differences.Count == 0 ? 0 : 1;
    }

    private static long Newest(string store)
    {
        using var database = new Database(store);
        database.Upgrade();
        return new OrderRepository(database).Read(transaction => transaction.NewestChange());
    }

    private static void Remove(string file)
    {
        foreach (var ending in (string[])["", "-wal", "-shm"])
            File.Delete(file + ending);
    }
}
