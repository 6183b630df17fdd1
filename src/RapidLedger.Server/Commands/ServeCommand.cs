using System.CommandLine;
using System.Net;
using Microsoft.AspNetCore.Connections;
using NodaTime.Text;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>serve</c>: the web app, the HTTP interface and its OpenAPI document.</summary>
internal static class ServeCommand
{
    public static Command Create()
    {
        var port = new Option<int>("--port") { Description = "The port to listen on; 0 takes a free one.", DefaultValueFactory = _ => 5080 };
        var bind = new Option<IPAddress>("--bind")
        {
            Description = "The address to listen on. Only this machine can reach 127.0.0.1; any other needs --unprotected.",
            DefaultValueFactory = _ => IPAddress.Loopback,
            CustomParser = parsed =>
            {
                if (IPAddress.TryParse(parsed.Tokens[0].Value, out var address)) return address;
                parsed.AddError($"'{parsed.Tokens[0].Value}' is not an IP address. Write 127.0.0.1 or 0.0.0.0.");
                return IPAddress.Loopback;
            },
        };
        var host = new Option<string[]>("--host") { Description = "A further name that the server is called by; may be given several times.", DefaultValueFactory = _ => [] };
        var unprotected = new Option<bool>("--unprotected") { Description = "Listen where others can reach it. There is no sign-in yet: whoever reaches it can change everything." };
        var store = new Option<int?>("--store") { Description = "A further port that answers nothing but the store interface, also to pages of other origins." };
        var data = DataOption.Create(isMade: true);
        var demo = new Option<bool>("--demo") { Description = "Fill an empty database with the demo shop." };
        var clock = new Option<string?>("--clock") { Description = "Stand still at this moment instead of now, such as 2027-03-05T10:00:00+01:00; for rehearsals and pictures." };
        var log = new Option<string>("--log") { Description = "How the log is written, to the error stream: text or json.", DefaultValueFactory = _ => "text" };
        log.AcceptOnlyFromAmong("text", "json");
        var level = new Option<LogLevel>("--log-level") { Description = "From which level on.", DefaultValueFactory = _ => LogLevel.Information };
        var command = new Command("serve", "Serves the web app and its HTTP interface.") { port, bind, host, unprotected, store, data, demo, clock, log, level };
        command.Validators.Add(result =>
        {
            if (result.GetValue(clock) is { } at && !OffsetDateTimePattern.ExtendedIso.Parse(at).Success) result.AddError($"'{at}' is not a moment. Write 2027-03-05T10:00:00+01:00.");
            if (result.GetValue(port) is < 0 or > 65_535) result.AddError("A port is a number from 0 to 65535.");
            if (result.GetValue(store) is { } own && (own is < 1 or > 65_535 || own == result.GetValue(port))) result.AddError("The port of the store interface is a number from 1 to 65535, and another one than --port.");
            if (result.GetValue(bind) is { } address && !IPAddress.IsLoopback(address) && !result.GetValue(unprotected))
                result.AddError($"There is no sign-in yet: whoever reaches {address} could change everything. Add --unprotected if that is meant, or leave --bind away.");
        });
        command.SetAction(async (parsed, cancelled) =>
        {
            var at = parsed.GetValue(clock);
            var options = new ServeOptions(
                new(parsed.GetRequiredValue(bind), parsed.GetValue(port)),
                parsed.GetRequiredValue(host),
                parsed.GetRequiredValue(data),
                parsed.GetValue(demo),
                at is null ? ProgramClock.Machine : new(OffsetDateTimePattern.ExtendedIso.Parse(at).Value.ToInstant()),
                parsed.GetValue(log) == "json",
                parsed.GetValue(level),
                parsed.GetValue(store));
            await using var app = await Site.Open(options);
            try
            {
                await app.StartAsync(cancelled);
            }
            catch (IOException error) when (error.InnerException is AddressInUseException)
            {
                throw new StorageFault($"Port {options.Endpoint.Port}{(options.StorePort is { } own ? $" or {own}" : "")} is in use. Choose another with --port{(options.StorePort is null ? "" : " or --store")}, or end what uses it.", inner: error);
            }

            Console.WriteLine($"Rapid Ledger is open at {app.Urls.First()} (data in {app.Services.GetRequiredService<Database>().Path}; Ctrl C closes it)");
            await app.WaitForShutdownAsync(cancelled);
            return 0;
        });
        return command;
    }
}

/// <summary>How a server is to be opened.</summary>
internal sealed record ServeOptions(IPEndPoint Endpoint, string[] Hosts, string Data, bool Demo, ProgramClock Clock, bool LogsJson, LogLevel LogLevel, int? StorePort = null);
