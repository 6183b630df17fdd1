using BenchmarkDotNet.Columns;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Diagnosers;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Loggers;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using RapidLedger.Benchmarks;

if (args is ["profile"])
{
    Quick.Run();
    return;
}

// One process and one short job, so that the ratios of a run belong together.
var job = (args.Contains("--long") ? Job.MediumRun : Job.ShortRun).WithToolchain(new InProcessEmitToolchain(TimeSpan.FromMinutes(5), true));
BenchmarkSwitcher.FromTypes([typeof(PricingBenchmarks), typeof(WorstCaseBenchmarks), typeof(CompileBenchmarks), typeof(PeerBenchmarks)]).RunAllJoined(
    ManualConfig.CreateEmpty()
        .AddJob(job)
        .AddDiagnoser(MemoryDiagnoser.Default)
        .AddColumnProvider(DefaultColumnProviders.Instance)
        .AddLogger(ConsoleLogger.Default)
        .AddExporter(BenchmarkDotNet.Exporters.MarkdownExporter.GitHub)
        .WithOptions(ConfigOptions.JoinSummary));
