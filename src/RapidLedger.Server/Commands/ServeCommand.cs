using System.CommandLine;
using System.Net;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.Extensions.FileProviders;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Server.Demo;
using RapidLedger.Server.Items;
using RapidLedger.Server.Promotions;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Tape;
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
            Description = "The address to listen on. Only this machine can reach 127.0.0.1.",
            DefaultValueFactory = _ => IPAddress.Loopback,
            CustomParser = parsed =>
            {
                if (IPAddress.TryParse(parsed.Tokens[0].Value, out var address)) return address;
                parsed.AddError($"'{parsed.Tokens[0].Value}' is not an IP address. Write 127.0.0.1 or 0.0.0.0.");
                return IPAddress.Loopback;
            },
        };
        var data = new Option<string>("--data") { Description = "The SQLite file; it is made if it is not there.", DefaultValueFactory = _ => "rapid-ledger.db" };
        var demo = new Option<bool>("--demo") { Description = "Fill an empty database with the demo shop." };
        var clock = new Option<string?>("--clock") { Description = "Stand still at this moment instead of now, such as 2027-03-05T10:00:00+01:00; for rehearsals and pictures." };
        var command = new Command("serve", "Serves the web app and its HTTP interface.") { port, bind, data, demo, clock };
        command.Validators.Add(result =>
        {
            if (result.GetValue(clock) is { } at && !OffsetDateTimePattern.ExtendedIso.Parse(at).Success) result.AddError($"'{at}' is not a moment. Write 2027-03-05T10:00:00+01:00.");
        });
        command.SetAction(async (parsed, cancelled) =>
        {
            var at = parsed.GetValue(clock);
            await using var app = Build(new(
                new IPEndPoint(parsed.GetRequiredValue(bind), parsed.GetValue(port)),
                parsed.GetRequiredValue(data),
                parsed.GetValue(demo),
                at is null ? SystemClock.Instance : new StandingClock(OffsetDateTimePattern.ExtendedIso.Parse(at).Value.ToInstant())));
            await app.StartAsync(cancelled);
            Console.WriteLine($"Rapid Ledger is open at {app.Urls.First()} (data in {app.Services.GetRequiredService<Database>().Path}; Ctrl C closes it)");
            await app.WaitForShutdownAsync(cancelled);
            return 0;
        });
        return command;
    }

    private static WebApplication Build(ServeOptions options)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.UseKestrelHttpsConfiguration();
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.Listen(options.Endpoint);
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = 16 * 1024 * 1024;
        });
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.Services.AddSingleton(options.Clock);
        builder.Services.AddSingleton(_ => new Database(options.Data));
        builder.Services.AddSingleton<ShopRepository>();
        builder.Services.AddSingleton<PromotionRepository>();
        builder.Services.AddSingleton<OpenShop>();
        builder.Services.AddSingleton<ItemSearch>();
        builder.Services.AddSingleton<TapePrinter>();
        builder.Services.AddSingleton<DemoShop>();
        builder.Services.ConfigureHttpJsonOptions(json => json.SerializerOptions.NumberHandling = JsonNumberHandling.Strict);
        builder.Services.Configure<RouteHandlerOptions>(routes => routes.ThrowOnBadRequest = true);
        builder.Services.AddOpenApi(openApi => openApi.AddDocumentTransformer((document, _, _) =>
        {
            // The address is the reader's own; the title is the product's.
            document.Servers = [];
            document.Info.Title = "Rapid Ledger";
            document.Info.Version = typeof(ServeCommand).Assembly.GetName().Version!.ToString(3);
            return Task.CompletedTask;
        }));
        builder.Services.AddResponseCompression(compression => compression.MimeTypes = ResponseCompressionDefaults.MimeTypes);

        var app = builder.Build();
        app.Services.GetRequiredService<Database>().Upgrade();
        if (options.Demo) app.Services.GetRequiredService<DemoShop>().Fill();

        app.UseResponseCompression();
        app.Use(Faults.Answer);
        app.MapOpenApi();
        app.MapGet("/healthz", (PromotionRepository promotions) => Results.Ok(new { status = "open", edition = promotions.NewestEdition()?.Number ?? 0 })).WithName("health");
        app.MapShop();
        app.MapItems();
        app.MapPromotions();
        app.MapTape();
        MapWebApp(app);
        return app;
    }

    private static void MapWebApp(WebApplication app)
    {
        IFileProvider files;
        try
        {
            files = new ManifestEmbeddedFileProvider(typeof(ServeCommand).Assembly, "web");
        }
        catch (InvalidOperationException)
        {
            // Built without the web app, as for tests of the HTTP interface.
            return;
        }

        app.UseStaticFiles(new StaticFileOptions
        {
            FileProvider = files,
            OnPrepareResponse = context => context.Context.Response.Headers.CacheControl =
                context.File.Name == "index.html" ? "no-cache" : "public, max-age=31536000, immutable",
        });
        app.MapFallback("{**path:nonfile}", async (HttpContext context) =>
        {
            if (context.Request.Path.StartsWithSegments("/api"))
            {
                await Answers.Refused("", "unknownName", $"There is nothing at {context.Request.Path}.").ExecuteAsync(context);
                return;
            }

            context.Response.Headers.CacheControl = "no-cache";
            context.Response.ContentType = "text/html; charset=utf-8";
            await context.Response.SendFileAsync(files.GetFileInfo("index.html"));
        });
    }

    private sealed record ServeOptions(IPEndPoint Endpoint, string Data, bool Demo, IClock Clock);

    private sealed class StandingClock(Instant at) : IClock
    {
        public Instant GetCurrentInstant() => at;
    }
}
