using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Reports;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;

namespace Outcry.Bench;

/// <summary>Planning alone: what matches the page must be what it costs, not what exists.</summary>
[MemoryDiagnoser]
public class PlanningBenchmarks
{
    private const int FewGroups = 10;
    private static readonly Instant Now = Instant.FromUtc(2026, 11, 24, 14, 0);
    private readonly Dictionary<string, SiteSnapshot> _sites = [];
    private VisitorRecord _visitor = null!;
    private PageAddress _page = null!;

    [GlobalSetup]
    public void Setup()
    {
        var onPage = Enumerable.Range(0, 200).Select(i => i * FewGroups).ToList();
        _sites["five"] = Make(Enumerable.Range(0, 5).Select(i => i * SampleSite.PageGroups), SampleSite.PageGroups);
        _sites["ten"] = Make(onPage.Take(10), FewGroups);
        _sites["200"] = Make(Enumerable.Range(0, SampleSite.Callouts), SampleSite.PageGroups);
        _sites["200 match"] = Make(onPage, FewGroups);
        _sites["2000"] = Make(Enumerable.Range(0, 2_000), FewGroups);
        _sites["ladder"] = WithLadder(Rungs);
        _visitor = VisitorRecord.New("visitor", Now).Arrive(Now);
        _page = PageAddress.TryAt("pots.test", "/group-0/mug")!;
    }

    [Benchmark]
    public Plan Five_live_all_match() => Plan("five");

    [Benchmark]
    public Plan Ten_live_all_match() => Plan("ten");

    [Benchmark]
    public Plan Two_hundred_live_five_match() => Plan("200");

    [Benchmark]
    public Plan Two_hundred_live_all_match() => Plan("200 match");

    [Benchmark]
    public Plan Two_thousand_live_200_match() => Plan("2000");

    [Benchmark]
    public Plan Two_hundred_live_and_a_ladder_of_50() => Plan("ladder");

    private const int Rungs = 50;

    // Every rung is for the page; all but the last are for other visitors, so that the whole ladder is climbed.
    private static SiteSnapshot WithLadder(int rungs)
    {
        var plain = Make(Enumerable.Range(0, SampleSite.Callouts), SampleSite.PageGroups);
        var others = new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3");
        var brief = LauncherStarter.Launcher("Europe/London", StarterBrief.Band, StarterBrief.Ground) with
        {
            Rungs =
            [
                .. Enumerable
                    .Range(1, rungs)
                    .Select(i =>
                        LauncherStarter.Rung(GreetingPurpose.Own) with
                        {
                            Who = new WhoFacet(i == rungs ? VisitorRule.Everybody : others, []),
                        }
                    ),
            ],
        };
        var launcher = new Launcher(
            new Definition(Guid.NewGuid(), "Ask", DefinitionState.Live, Now, 1),
            brief,
            SiteContext.Nothing
        );
        return plain.Trying(launcher);
    }

    private Plan Plan(string site) =>
        Planner.MakePlan(_sites[site], _page, _visitor, VisitorFacts.Unknown, Now, PlanOptions.Live);

    private static SiteSnapshot Make(IEnumerable<int> numbers, int groups)
    {
        var source = Guid.NewGuid();
        var callouts = numbers.Select(n => new Callout(
            new Definition(Guid.NewGuid(), $"c{n}", DefinitionState.Live, Now, 1),
            SampleSite.Brief(n, source, groups)
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
        BenchmarkReport Of(string method) =>
            summary.Reports.Single(r => r.BenchmarkCase.Descriptor.WorkloadMethod.Name == method);
        Compare(file, "plan-core-10", Of(nameof(Ten_live_all_match)), Of(nameof(Five_live_all_match)));
        Compare(file, "plan-core-200", Of(nameof(Two_hundred_live_five_match)), Of(nameof(Five_live_all_match)));
        Compare(
            file,
            "plan-ladder-50",
            Of(nameof(Two_hundred_live_and_a_ladder_of_50)),
            Of(nameof(Two_hundred_live_five_match))
        );
        Compare(
            file,
            "plan-core-2000",
            Of(nameof(Two_thousand_live_200_match)),
            Of(nameof(Two_hundred_live_all_match))
        );
    }

    private static void Compare(string file, string name, BenchmarkReport report, BenchmarkReport beside)
    {
        var (all, less) = (report.ResultStatistics!, beside.ResultStatistics!);
        var spread = $"{all.Min / 1000:0.0} to {all.Max / 1000:0.0} µs";
        new Figure(name, all.Median / 1e9, "seconds", less.Median / 1e9, all.Median / less.Median, spread).Append(file);
        var bytes = report.GcStats.GetBytesAllocatedPerOperation(report.BenchmarkCase) ?? 0;
        var fewer = beside.GcStats.GetBytesAllocatedPerOperation(beside.BenchmarkCase) ?? 0;
        new Figure($"{name}-allocated", bytes, "bytes", fewer, (double)bytes / fewer, "counted").Append(file);
    }
}
