using System.CommandLine;
using System.CommandLine.Parsing;
using System.Globalization;
using System.Net;
using Microsoft.AspNetCore.Connections;
using NodaTime.Text;
using RapidLedger.Server.Opening;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>serve</c>: the web app, the HTTP interface and its OpenAPI document.</summary>
internal static class ServeCommand
{
    public static Command Create()
    {
        var port = Port("--port", "The port to listen on; 0 takes a free one.", 0, _ => 5080);
        var bind = Address("--bind", "The address to listen on. Only this machine can reach 127.0.0.1; any other needs --unprotected.", _ =>
            IPAddress.Loopback
        );
        var host = new Option<string[]>("--host")
        {
            Description = "A further name that the server is called by; may be given several times.",
            DefaultValueFactory = _ => [],
        };
        var unprotected = new Option<bool>("--unprotected")
        {
            Description = "Listen where others can reach it. There is no sign-in yet: whoever reaches it can change everything.",
        };
        var store = Port("--store", "A further port that answers nothing but the store interface, also to pages of other origins.", 1, _ =>
            null
        );
        var storeBind = Address(
            "--store-bind",
            "The address on which --store listens; as --bind unless said. A key is needed there, so it may be reached from anywhere.",
            null
        );
        var proxy = new Option<IPNetwork[]>("--proxy")
        {
            Description =
                "A network of reverse proxies, such as 10.0.0.0/8: what they say of whom they speak for (X-Forwarded-For, X-Forwarded-Proto) is believed. May be given several times.",
            DefaultValueFactory = _ => [],
            CustomParser = parsed =>
            {
                var networks = new List<IPNetwork>();
                foreach (var token in parsed.Tokens)
                    if (IPNetwork.TryParse(token.Value, out var network))
                        networks.Add(network);
                    else
                        parsed.AddError(
                            $"'{token.Value}' is not a network. Write an address and how many of its bits count, such as 10.0.0.0/8 or 192.0.2.7/32."
                        );
                return [.. networks];
            },
        };
        var data = DataOption.Create(isMade: true);
        var demo = new Option<bool>("--demo") { Description = "Fill an empty database with the demo shop." };
        var clock = new Option<string?>("--clock")
        {
            Description = "Stand still at this moment instead of now, such as 2027-03-05T10:00:00+01:00; for rehearsals and pictures.",
        };
        var log = new Option<string>("--log")
        {
            Description = "How the log is written, to the error stream: text or json.",
            DefaultValueFactory = _ => "text",
        };
        log.AcceptOnlyFromAmong("text", "json");
        var level = new Option<LogLevel>("--log-level")
        {
            Description = "From which level on.",
            DefaultValueFactory = _ => LogLevel.Information,
        };
        var command = new Command("serve", "Serves the web app and its HTTP interface.")
        {
            port,
            bind,
            host,
            unprotected,
            store,
            storeBind,
            proxy,
            data,
            demo,
            clock,
            log,
            level,
        };
        command.Validators.Add(result =>
        {
            try
            {
                Compare(result);
            }
            catch (InvalidOperationException)
            {
                // A value that could not be read; it says so itself.
            }
        });
        void Compare(CommandResult result)
        {
            if (result.GetValue(clock) is { } at && !OffsetDateTimePattern.ExtendedIso.Parse(at).Success)
                result.AddError($"'{at}' is not a moment. Write 2027-03-05T10:00:00+01:00.");
            if (result.GetValue(store) is { } own && own == result.GetValue(port))
                result.AddError("The store interface needs another port than --port.");
            if (result.GetValue(storeBind) is not null && result.GetValue(store) is null)
                result.AddError("--store-bind says where the port of --store listens; add --store PORT.");
            if (result.GetValue(bind) is { } address && !IPAddress.IsLoopback(address) && !result.GetValue(unprotected))
                result.AddError(
                    $"There is no sign-in yet: whoever reaches {address} could change everything. Add --unprotected if that is meant, or leave --bind away."
                );
        }

        command.SetAction(
            async (parsed, cancelled) =>
            {
                // Signals are listened to from the first wait on: what opens a store is not killed in the middle of it.
                await Task.Yield();
                var at = parsed.GetValue(clock);
                var options = new ServeOptions(
                    new(parsed.GetRequiredValue(bind)!, parsed.GetValue(port)!.Value),
                    parsed.GetRequiredValue(host),
                    parsed.GetRequiredValue(data),
                    parsed.GetValue(demo),
                    at is null ? ProgramClock.Machine : new(OffsetDateTimePattern.ExtendedIso.Parse(at).Value.ToInstant()),
                    parsed.GetValue(log) == "json",
                    parsed.GetValue(level),
                    parsed.GetValue(store) is { } storePort
                        ? new(parsed.GetValue(storeBind) ?? parsed.GetRequiredValue(bind)!, storePort)
                        : null,
                    parsed.GetRequiredValue(proxy)
                );
                // Where the demo shop is left, the server opens again over an empty file, at the address that pages know.
                var said = parsed.InvocationConfiguration.Output;
                while (await Serve(options, said, cancelled) is var (kept, port))
                {
                    options = options with { Endpoint = new(options.Endpoint.Address, port) };
                    if (DemoLeaving.PutAside(options.Data, kept))
                    {
                        said.WriteLine($"The demo shop is kept in {kept}.");
                        options = options with { Demo = false };
                    }
                    else
                    {
                        parsed.InvocationConfiguration.Error.WriteLine(
                            $"Another server serves {options.Data}: end it, then leave the demo shop again."
                        );
                    }
                }

                return 0;
            }
        );
        return command;
    }

    // Where the demo was left: what it is kept as, and on which port it was served. Null: the server ended.
    private static async Task<(string Kept, int Port)?> Serve(ServeOptions options, TextWriter said, CancellationToken cancelled)
    {
        using var served = ServedMark.Hold(options.Data);
        await using var app = await Site.Open(options);
        try
        {
            await app.StartAsync(cancelled);
        }
        catch (IOException error) when (error.InnerException is AddressInUseException)
        {
            throw new StorageFault(
                $"Port {options.Endpoint.Port}{(options.Store is { } own ? $" or {own.Port}" : "")} is in use. Choose another with --port{(options.Store is null ? "" : " or --store")}, or end what uses it.",
                inner: error
            );
        }
        catch (OperationCanceledException) when (cancelled.IsCancellationRequested)
        {
            // Asked to end before it was open.
            return null;
        }

        said.WriteLine(
            $"Rapid Ledger is open at {app.Urls.First()} (data in {app.Services.GetRequiredService<Database>().Path}; Ctrl C closes it)"
        );
        await app.WaitForShutdownAsync(cancelled);
        return app.Services.GetRequiredService<DemoLeaving>().Kept is { } kept ? (kept, new Uri(app.Urls.First()).Port) : null;
    }

    private static Option<int?> Port(string name, string what, int least, Func<ArgumentResult, int?> usual) =>
        new(name)
        {
            Description = what,
            DefaultValueFactory = usual,
            CustomParser = parsed =>
            {
                if (
                    int.TryParse(parsed.Tokens[0].Value, CultureInfo.InvariantCulture, out var port)
                    && port >= least
                    && port <= IPEndPoint.MaxPort
                )
                    return port;
                parsed.AddError(
                    $"'{parsed.Tokens[0].Value}' is no port for {name}. A port is a number from {least} to {IPEndPoint.MaxPort}."
                );
                return null;
            },
        };

    private static Option<IPAddress?> Address(string name, string what, Func<ArgumentResult, IPAddress?>? usual)
    {
        var option = new Option<IPAddress?>(name)
        {
            Description = what,
            CustomParser = parsed =>
            {
                if (IPAddress.TryParse(parsed.Tokens[0].Value, out var address))
                    return address;
                parsed.AddError($"'{parsed.Tokens[0].Value}' is not an IP address for {name}. Write 127.0.0.1 or 0.0.0.0.");
                return null;
            },
        };
        if (usual is not null)
            option.DefaultValueFactory = usual;
        return option;
    }
}

/// <summary>How a server is to be opened.</summary>
internal sealed record ServeOptions(
    IPEndPoint Endpoint,
    string[] Hosts,
    string Data,
    bool Demo,
    ProgramClock Clock,
    bool LogsJson,
    LogLevel LogLevel,
    IPEndPoint? Store,
    IPNetwork[] Proxies
);
