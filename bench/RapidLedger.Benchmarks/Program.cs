using BenchmarkDotNet.Columns;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Diagnosers;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Loggers;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using Perfolizer.Horology;
using RapidLedger.Benchmarks;

if (args is ["profile", ..])
{
    Quick.Run(args.ElementAtOrDefault(1));
    return;
}

if (args is ["hunt", ..])
{
    Hunt.Run(args[1..]);
    return;
}

if (args is ["store", var executable, ..])
{
    await StoreLoad.Run(
        executable,
        args is [_, _, var codes] ? long.Parse(codes, System.Globalization.CultureInfo.InvariantCulture) : 1_000_000
    );
    return;
}

if (args is ["sizes", var program, ..])
{
    int Of(int place, int usual) => args.Length > place ? int.Parse(args[place], System.Globalization.CultureInfo.InvariantCulture) : usual;
    await Sizes.Run(program, Of(2, 1_000_000), Of(3, 100_000), Of(4, 50_000));
    return;
}

if (args is ["keys", var served, var demo])
{
    await KeyToTape.Run(served, demo);
    return;
}

// One process and one short job, so that the ratios of a run belong together.
var job = (
    args.Contains("--long")
        ? Job.MediumRun
        : Job.ShortRun.WithIterationTime(TimeInterval.FromMilliseconds(80)).WithIterationCount(5).WithWarmupCount(3)
).WithToolchain(new InProcessEmitToolchain(TimeSpan.FromMinutes(5), true));
BenchmarkSwitcher
    .FromTypes([
        typeof(PricingBenchmarks),
        typeof(WorstCaseBenchmarks),
        typeof(CompileBenchmarks),
        typeof(MeetingsBenchmarks),
        typeof(PeerBenchmarks),
    ])
    .RunAllJoined(
        ManualConfig
            .CreateEmpty()
            .AddJob(job)
            .AddDiagnoser(MemoryDiagnoser.Default)
            .AddColumnProvider(DefaultColumnProviders.Instance)
            .AddLogger(ConsoleLogger.Default)
            .HideColumns(
                "Job",
                "Toolchain",
                "IterationCount",
                "IterationTime",
                "LaunchCount",
                "WarmupCount",
                "Error",
                "StdDev",
                "RatioSD",
                "Gen0",
                "Gen1",
                "Gen2"
            )
            .AddExporter(BenchmarkDotNet.Exporters.MarkdownExporter.GitHub)
            .WithOptions(ConfigOptions.JoinSummary)
    );
