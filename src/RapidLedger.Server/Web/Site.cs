using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Extensions.FileProviders;
using Microsoft.Extensions.Logging.Console;
using NodaTime;
using Prometheus;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Codes;
using RapidLedger.Server.Commands;
using RapidLedger.Server.Demo;
using RapidLedger.Server.Editions;
using RapidLedger.Server.Goods;
using RapidLedger.Server.Goods.Importing;
using RapidLedger.Server.Items;
using RapidLedger.Server.Opening;
using RapidLedger.Server.PastOrders;
using RapidLedger.Server.Promotions;
using RapidLedger.Server.Selling;
using RapidLedger.Server.Settings;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Shoppers;
using RapidLedger.Server.Takings;
using RapidLedger.Server.Tape;
using RapidLedger.Server.WhoMeets;
using RapidLedger.Server.Words;
using RapidLedger.Storage;

namespace RapidLedger.Server.Web;

/// <summary>
/// Puts the server together: what it listens to, what stands between a request and its answer, and where what is answered.
/// </summary>
internal static class Site
{
    /// <summary>How long what is under way may still take when the server is told to end.</summary>
    public static readonly TimeSpan Ending = TimeSpan.FromSeconds(10);

    /// <summary>Opens the store, makes everything ready, and gives a server that can start at once.</summary>
    /// <exception cref="StorageFault">The store cannot be opened.</exception>
    public static async Task<WebApplication> Open(ServeOptions options)
    {
        var app = Build(options);
        var database = app.Services.GetRequiredService<Database>();
        database.Upgrade();
        await app.Services.GetRequiredService<StepRepository>().Recover();
        await app.Services.GetRequiredService<PastOrderBatches>().Recover();
        if (options.Demo)
            await app.Services.GetRequiredService<DemoShop>().Fill();
        WarmUp.Run(app.Services);
        app.Services.GetRequiredService<CodeMaking>().GoOn();
        Metrics.Watch(app.Services);
        var gate = app.Services.GetRequiredService<Gatekeeper>();
        if (!gate.IsPrivate)
            app.Logger.LogWarning("Unprotected: whoever reaches {Endpoint} can change everything.", options.Endpoint);

        // Whoever stands behind a proxy that is known is whom it names; nobody else is believed.
        if (options.Proxies.Length > 0)
            app.UseForwardedHeaders(Forwarded(options.Proxies));
        app.UseRouting();
        app.UseHttpMetrics();
        app.UseResponseCompression();
        app.Use(Faults.Answer);
        app.Use(gate.Admit);
        app.Use(app.Services.GetRequiredService<StoreKeys>().Admit);
        var routes = app.MapGroup("");
        ((IEndpointConventionBuilder)routes).Add(AnswerHead);
        routes.MapOpenApi();
        routes.MapMetrics();
        routes
            .MapGet("/healthz", () => Results.Ok(new Health("alive", database.Fault?.Message)))
            .Produces<Health>()
            .Says("health", "operating", "Whether the server lives");
        routes
            .MapGet("/readyz", (OpenShop shop) =>
            {
                var ready = new Readiness(
                    database.Fault is null ? "ready" : "notStoring",
                    shop.Live.Number,
                    shop.Live.Unreadable.Count,
                    database.Fault?.Message
                );
                return Results.Json(
                    ready,
                    statusCode: database.Fault is null ? StatusCodes.Status200OK : StatusCodes.Status503ServiceUnavailable
                );
            })
            .Produces<Readiness>()
            .Produces<Readiness>(503)
            .Says("ready", "operating", "Whether the server can do all it is there for");
        routes.MapShop();
        routes.MapItems();
        routes.MapPromotions();
        routes.MapEditions();
        routes.MapTape();
        routes.MapCurve();
        routes.MapSecondLook();
        routes.MapMost();
        routes.MapCodes();
        routes.MapKeys();
        routes.MapStock();
        routes.MapForget();
        routes.MapOrderBook();
        routes.MapPastOrders();
        routes.MapTakings();
        routes.MapMeetings();
        routes.MapWords();
        routes
            .MapGet("/api/counter", (StoreKeys keys) => new CounterKey(keys.Counter))
            .Produces<CounterKey>()
            .Says("counterKey", "selling", "The key of the program's own counter");
        routes.MapStore();
        routes.MapStoreGoods();
        routes.MapGoods();
        routes.MapCategories();
        routes.MapImports();
        routes.MapOpening();
        routes.MapSettings();
        routes.MapShoppers();
        routes.MapArchives();
        ServeWebApp(app);
        return app;
    }

    private static WebApplication Build(ServeOptions options)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.UseKestrelHttpsConfiguration();
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.Listen(options.Endpoint);
            if (options.Store is { } store)
                kestrel.Listen(store);
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = Faults.LargestRequest;
        });
        builder.Services.Configure<HostOptions>(host => host.ShutdownTimeout = Ending);
        Log(builder, options);
        var services = builder.Services;
        services.AddSingleton(options.Clock);
        services.AddSingleton<IClock>(options.Clock);
        services.AddSingleton(_ => new Database(options.Data));
        services.AddSingleton(_ => new Gatekeeper(options.Endpoint.Address, options.Hosts, options.Store?.Port));
        services.AddSingleton<ShopRepository>();
        services.AddSingleton<PromotionRepository>();
        services.AddSingleton<CodeRepository>();
        services.AddSingleton<OrderRepository>();
        services.AddSingleton<KeyRepository>();
        services.AddSingleton<StoreKeys>();
        services.AddSingleton<CodeMaking>();
        services.AddSingleton<CodeStories>();
        services.AddSingleton<CodeGuard>();
        services.AddSingleton<OrderLog>();
        services.AddSingleton<Quoting>();
        services.AddSingleton<Placing>();
        services.AddSingleton<Taking>();
        services.AddSingleton<GivingBack>();
        services.AddSingleton<OpenShop>();
        services.AddSingleton<Publishing>();
        services.AddSingleton<PublicationLog>();
        services.AddSingleton<StepRepository>();
        services.AddSingleton<DemoLeaving>();
        services.AddSingleton<TakingsRepository>();
        services.AddSingleton<TakingsBook>();
        services.AddSingleton<MeetingsBook>();
        services.AddSingleton<TakingsParts>();
        services.AddHostedService<TakingsFollower>();
        services.AddSingleton<PastOrderRepository>();
        services.AddSingleton<PastOrderBatches>();
        services.AddSingleton<RenameRepository>();
        services.AddSingleton<GoodsWriter>();
        services.AddSingleton<IncomingWriter>();
        services.AddSingleton<SettingsReview>();
        services.AddSingleton<ImportDesk>();
        services.AddTransient(of => of.GetRequiredService<OpenShop>().Setup.Search);
        services.AddHostedService<Follower>();
        services.AddSingleton<TapePrinter>();
        services.AddSingleton<LiveSide>();
        services.AddSingleton<Processors>();
        services.AddSingleton<PricingGate>();
        services.AddSingleton<StoreGate>();
        services.AddSingleton<BackgroundGate>();
        services.AddSingleton<WholeShopRepository>();
        services.AddSingleton<ArchivedOrders>();
        services.AddSingleton<ShopExport>();
        services.AddSingleton<DemoShop>();
        services.ConfigureHttpJsonOptions(json =>
        {
            var serializer = json.SerializerOptions;
            serializer.NumberHandling = JsonNumberHandling.Strict;
            serializer.RespectRequiredConstructorParameters = true;
            serializer.RespectNullableAnnotations = true;
            serializer.AllowDuplicateProperties = false;
            serializer.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
            // What nests too deep is told by the document's own reader.
            serializer.MaxDepth = 512;
            serializer.Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping;
            serializer.Converters.Add(new WholeJson());
        });
        services.Configure<RouteHandlerOptions>(routes => routes.ThrowOnBadRequest = true);
        services.AddOpenApi(openApi =>
            openApi.AddDocumentTransformer(
                (document, _, _) =>
                {
                    StoreForms.Describe(document);
                    ApiDocument.Describe(document);
                    return Task.CompletedTask;
                }
            )
        );
        services.AddResponseCompression(compression => compression.MimeTypes = ResponseCompressionDefaults.MimeTypes);
        return builder.Build();
    }

    private static void Log(WebApplicationBuilder builder, ServeOptions options)
    {
        builder.Logging.Configure(logger => logger.ActivityTrackingOptions = ActivityTrackingOptions.None);
        builder
            .Logging.ClearProviders()
            .SetMinimumLevel(options.LogLevel)
            // What keeps it from starting is said in a sentence of its own.
            .AddFilter("Microsoft.Extensions.Hosting.Internal.Host", LogLevel.None)
            .AddFilter("Microsoft", options.LogLevel > LogLevel.Warning ? options.LogLevel : LogLevel.Warning);
        // Answers of commands go to the output; what is logged never stands among them.
        builder.Services.Configure<ConsoleLoggerOptions>(console => console.LogToStandardErrorThreshold = LogLevel.Trace);
        if (options.LogsJson)
            builder.Logging.AddJsonConsole(json =>
                (json.UseUtcTimestamp, json.TimestampFormat, json.JsonWriterOptions) = (
                    true,
                    "yyyy-MM-ddTHH:mm:ss.fffZ",
                    new JsonWriterOptions()
                )
            );
        else
            builder.Logging.AddSimpleConsole(text =>
                (text.UseUtcTimestamp, text.TimestampFormat, text.SingleLine, text.ColorBehavior) = (
                    true,
                    "yyyy-MM-ddTHH:mm:ss.fffZ ",
                    true,
                    LoggerColorBehavior.Disabled
                )
            );
    }

    private static ForwardedHeadersOptions Forwarded(IEnumerable<System.Net.IPNetwork> proxies)
    {
        var forwarded = new ForwardedHeadersOptions
        {
            ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto,
            ForwardLimit = null,
        };
        forwarded.KnownIPNetworks.Clear();
        forwarded.KnownProxies.Clear();
        foreach (var proxy in proxies)
            forwarded.KnownIPNetworks.Add(proxy);
        return forwarded;
    }

    // Whatever can be got can be asked for without its body (RFC 9110, 9.1).
    private static void AnswerHead(EndpointBuilder endpoint)
    {
        for (var i = 0; i < endpoint.Metadata.Count; i++)
            if (endpoint.Metadata[i] is HttpMethodMetadata { HttpMethods: ["GET"] })
                endpoint.Metadata[i] = new HttpMethodMetadata(["GET", "HEAD"]);
    }

    private static void ServeWebApp(WebApplication app)
    {
        IFileProvider files;
        try
        {
            files = new ManifestEmbeddedFileProvider(typeof(Site).Assembly, "web");
        }
        catch (InvalidOperationException)
        {
            // Built without the web app, as for tests of the HTTP interface.
            return;
        }

        // What the build has compressed is sent as it is to whoever takes it: smaller than what is compressed anew for each request.
        app.Use(
            (context, next) =>
            {
                var request = context.Request;
                if (
                    request.Path.StartsWithSegments("/assets")
                    && request
                        .GetTypedHeaders()
                        .AcceptEncoding.Any(encoding => encoding.Value.Equals("br", StringComparison.Ordinal) && encoding.Quality is not 0)
                    && files.GetFileInfo(request.Path + Brotli).Exists
                )
                    request.Path += Brotli;
                return next(context);
            }
        );
        var types = new FileExtensionContentTypeProvider();
        types.Mappings[Brotli] = "application/octet-stream";
        app.UseStaticFiles(
            new StaticFileOptions
            {
                FileProvider = files,
                ContentTypeProvider = types,
                OnPrepareResponse = sent =>
                {
                    var (path, headers) = (sent.Context.Request.Path, sent.Context.Response.Headers);
                    var isAsset = path.StartsWithSegments("/assets");
                    headers.CacheControl = isAsset ? "public, max-age=31536000, immutable" : "no-cache";
                    if (isAsset)
                        headers.Vary = "Accept-Encoding";
                    if (!path.Value!.EndsWith(Brotli, StringComparison.Ordinal))
                        return;
                    // It is of the type of what is in it.
                    headers.ContentEncoding = "br";
                    if (types.TryGetContentType(path.Value[..^Brotli.Length], out var type))
                        headers.ContentType = type;
                },
            }
        );
        // A page of the app is wherever nothing else is, but for the interface's own paths and for files.
        app.Use(
            async (context, next) =>
            {
                var (request, response) = (context.Request, context.Response);
                var isPage =
                    context.GetEndpoint() is null
                    && (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method))
                    && !Array.Exists((string[])["/api", "/schemas", "/openapi"], start => request.Path.StartsWithSegments(start))
                    // The place Store is a page; what lies below it is the store interface.
                    && !(request.Path.StartsWithSegments("/store", out var below) && below.HasValue)
                    && !Path.HasExtension(request.Path);
                if (!isPage)
                {
                    await next(context);
                    return;
                }

                response.Headers.CacheControl = "no-cache";
                response.ContentType = "text/html; charset=utf-8";
                await response.SendFileAsync(files.GetFileInfo("index.html"));
            }
        );
    }

    private const string Brotli = ".br";

    /// <summary>The key with which the program's own counter calls the store interface.</summary>
    private sealed record CounterKey(string Key);

    /// <summary>Whether the server lives.</summary>
    /// <param name="Status">Always <c>alive</c>.</param>
    /// <param name="Storing">Why the last write did not come through; null: it did.</param>
    private sealed record Health(string Status, string? Storing);

    /// <summary>Whether the server can do all it is there for.</summary>
    /// <param name="Status">ready, or notStoring while writes do not come through.</param>
    /// <param name="Edition">The live edition.</param>
    /// <param name="Unreadable">How many live promotions can no longer be read.</param>
    /// <param name="Storing">Why the last write did not come through; null: it did.</param>
    private sealed record Readiness(string Status, long Edition, int Unreadable, string? Storing);
}
