using System.Text.Json;
using Outcry.Core.Planning;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Plays the scenarios that the snippet's own tests play too: both must come to the same timeline.</summary>
public sealed class ConformanceTests
{
    private const long PageMs = 120_000;

    public sealed record RulesPart(int AtOnce, int GapMs, int MostPerVisit, int PatienceMs);

    public sealed record VisitPart(int Starts, long? SinceLastEndMs, long HushLeftMs);

    public sealed record CuePart(string Id, int? Priority, long DueMs, long[] StaysMs);

    public sealed record ActPart(long AtMs, string Kind, string Callout);

    public sealed record Scenario(
        string Name,
        RulesPart? Rules,
        VisitPart? Visit,
        CuePart[] Cues,
        ActPart[]? Acts,
        string[] Expected
    );

    private static Scenario[] Read()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "tests", "conformance", "queue.json")))
            folder = folder.Parent ?? throw new FileNotFoundException("tests/conformance/queue.json");
        return JsonSerializer.Deserialize<Scenario[]>(
            File.ReadAllText(Path.Combine(folder.FullName, "tests", "conformance", "queue.json")),
            JsonSerializerOptions.Web
        )!;
    }

    public static TheoryData<string> Names => [.. Read().Select(s => s.Name)];

    [Theory]
    [MemberData(nameof(Names))]
    public void The_rehearsal_comes_to_the_timeline_that_the_snippet_comes_to(string name)
    {
        var scenario = Read().Single(s => s.Name == name);
        var ids = scenario.Cues.ToDictionary(c => c.Id, _ => Guid.NewGuid());
        var names = ids.ToDictionary(i => i.Value, i => i.Key);
        var rules = scenario.Rules is { } r
            ? new HouseRules(r.AtOnce, r.GapMs / 1000, r.MostPerVisit, r.PatienceMs / 1000, [])
            : HouseRules.Start;
        var start = scenario.Visit is { } v
            ? PageStart.Fresh(Now) with
            {
                Starts = v.Starts,
                SinceLastEndMs = v.SinceLastEndMs,
                HushLeftMs = v.HushLeftMs,
            }
            : PageStart.Fresh(Now);
        var cues = scenario.Cues.Select(
            (c, order) =>
                new Cue(
                    ids[c.Id],
                    CalloutClass.Floating,
                    c.Priority ?? 5,
                    order,
                    c.DueMs,
                    [.. c.StaysMs.Select(s => (long?)s)],
                    12_000,
                    86_400_000,
                    rules.PatienceSeconds * 1000L
                )
        );
        var acts = (scenario.Acts ?? []).Select(a => new Act(
            a.AtMs,
            Enum.Parse<ActKind>(a.Kind, ignoreCase: true),
            ids[a.Callout]
        ));
        var outcome = Performance.Play(cues, rules, start, acts, PageMs);
        var timeline = outcome
            .Showings.SelectMany(s =>
                new[]
                {
                    (At: s.StartMs, Order: 1, What: $"start {names[s.Callout]}{s.Turn + 1} {s.StartMs}"),
                    (At: s.EndMs, Order: 0, What: $"end {names[s.Callout]}{s.Turn + 1} {s.EndMs}"),
                }
            )
            .OrderBy(e => e.At)
            .ThenBy(e => e.Order)
            .Select(e => e.What);
        Assert.Equal(scenario.Expected, timeline);
    }
}
