using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Core.Visitors;

namespace Outcry.Bench;

/// <summary>Planning alone, for a page on which five of the live callouts may show.</summary>
[MemoryDiagnoser]
public class PlanningBenchmarks
{
    private static readonly Instant Now = Instant.FromUtc(2026, 11, 24, 14, 0);
    private SiteSnapshot _small = null!;
    private SiteSnapshot _large = null!;
    private VisitorRecord _visitor = null!;
    private PageAddress _page = null!;

    [GlobalSetup]
    public void Setup()
    {
        _small = Make(Enumerable.Range(0, 5).Select(i => i * SampleSite.PageGroups));
        _large = Make(Enumerable.Range(0, SampleSite.Callouts));
        _visitor = VisitorRecord.New("visitor", Now).Arrive(Now);
        _page = PageAddress.At("pots.test", "/group-0/mug");
    }

    [Benchmark(Baseline = true)]
    public Plan Plan_with_only_the_five_that_match() =>
        Planner.MakePlan(_small, _page, _visitor, VisitorFacts.Unknown, Now, PlanOptions.Live);

    [Benchmark]
    public Plan Plan_with_200_live() =>
        Planner.MakePlan(_large, _page, _visitor, VisitorFacts.Unknown, Now, PlanOptions.Live);

    private static SiteSnapshot Make(IEnumerable<int> numbers)
    {
        var source = Guid.NewGuid();
        var callouts = numbers.Select(n => new Callout(
            Guid.NewGuid(),
            $"c{n}",
            CalloutState.Live,
            Now,
            1,
            SampleSite.Brief(n, source)
        ));
        return new SiteSnapshot(
            HouseRules.Start,
            false,
            callouts,
            SampleSite.Events(source, Now),
            _ => DisplayPolicy.Start,
            Now
        );
    }

    internal static void Run(string file)
    {
        var job = Job.ShortRun.WithToolchain(InProcessEmitToolchain.Instance).WithIterationCount(9).WithWarmupCount(4);
        var summary = BenchmarkRunner.Run<PlanningBenchmarks>(
            ManualConfig.Create(DefaultConfig.Instance).AddJob(job).WithOptions(ConfigOptions.DisableLogFile)
        );
        var five = summary.Reports.Single(r => r.BenchmarkCase.Descriptor.Baseline);
        var all = summary.Reports.Single(r => !r.BenchmarkCase.Descriptor.Baseline);
        var (median, baseline) = (all.ResultStatistics!.Median, five.ResultStatistics!.Median);
        var spread = $"{all.ResultStatistics.Min / 1000:0.0} to {all.ResultStatistics.Max / 1000:0.0} µs";
        new Figure("plan-core-200", median / 1e9, "seconds", baseline / 1e9, median / baseline, spread).Append(file);
        var bytes = all.GcStats.GetBytesAllocatedPerOperation(all.BenchmarkCase) ?? 0;
        var fewBytes = five.GcStats.GetBytesAllocatedPerOperation(five.BenchmarkCase) ?? 0;
        new Figure("plan-core-200-allocated", bytes, "bytes", fewBytes, (double)bytes / fewBytes, "counted").Append(
            file
        );
    }
}
