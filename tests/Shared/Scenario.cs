using System.Globalization;
using System.Text.Json;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Performing;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Tests.Shared;

/// <summary>One journey with the timeline that it must come to, in the rehearsal and in a real browser alike.</summary>
/// <param name="Name">What it shows, as a sentence.</param>
/// <param name="Rule">Numbers of the planner's rules that it is about; 0 for who is on the plan.</param>
/// <param name="Callouts">By a short name; age follows the order, the older first.</param>
/// <param name="Pages">The journey.</param>
/// <param name="Timeline">"page start|end name seconds", as "1 start S1 30": the number after a name is which showing on that page.</param>
public sealed record Scenario(
    string Name,
    int[] Rule,
    Dictionary<string, ScenarioCallout> Callouts,
    ScenarioPage[] Pages,
    string[] Timeline
)
{
    public ScenarioRules Rules { get; init; } = new();

    /// <summary>Greetings of the one launcher, by a short name, in the order of its ladder; the launcher is younger than all callouts.</summary>
    public Dictionary<string, ScenarioGreeting> Greetings { get; init; } = [];

    /// <summary>Whether a rung that how often refuses is passed over.</summary>
    public bool ThenNext { get; init; }

    /// <summary>Greetings in a visit at most.</summary>
    public int MostGreetings { get; init; } = LauncherStarter.MostPerVisit;

    /// <summary>The launcher with its greetings; null where there is none.</summary>
    /// <param name="ids">Takes which greeting has which id.</param>
    public LauncherBrief? Launcher(Dictionary<string, Guid> ids)
    {
        if (Greetings.Count == 0)
            return null;
        foreach (var name in Greetings.Keys)
            ids[name] = Guid.CreateVersion7();
        return LauncherStarter.Launcher("Europe/London", StarterBrief.Band, StarterBrief.Ground) with
        {
            Rungs = [.. Greetings.Select(g => g.Value.Rung(ids[g.Key], g.Key))],
            ThenNext = ThenNext,
            MostPerVisit = MostGreetings,
        };
    }

    /// <summary>Whether it is walked on a phone.</summary>
    public bool Phone { get; init; }

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        UnmappedMemberHandling = System.Text.Json.Serialization.JsonUnmappedMemberHandling.Disallow,
        RespectRequiredConstructorParameters = true,
        ReadCommentHandling = JsonCommentHandling.Skip,
        Converters = { new System.Text.Json.Serialization.JsonStringEnumConverter() },
    };

    /// <summary>All scenarios, from the files in tests/conformance.</summary>
    public static IReadOnlyList<Scenario> All { get; } =
    [.. Directory.GetFiles(Folder(), "*.json").Order().SelectMany(Read)];

    private static Scenario[] Read(string file) =>
        JsonSerializer.Deserialize<Scenario[]>(File.ReadAllText(file), Options)!;

    public static string Folder()
    {
        var at = new DirectoryInfo(AppContext.BaseDirectory);
        while (!Directory.Exists(Path.Combine(at.FullName, "tests", "conformance")))
            at = at.Parent ?? throw new DirectoryNotFoundException("tests/conformance");
        return Path.Combine(at.FullName, "tests", "conformance");
    }
}

/// <summary>The house rules; what is not given has its start value. Seconds.</summary>
public sealed record ScenarioRules(int AtOnce = 1, int Gap = 10, int PerVisit = 6, int Patience = 20)
{
    public HouseRules HouseRules => new(AtOnce, Gap, PerVisit, Patience, []);
}

/// <summary>A callout; what is not given has its start value.</summary>
public sealed record ScenarioCallout
{
    /// <summary>Seconds after arrival; the only trigger unless <see cref="Triggers"/> are given.</summary>
    public int After { get; init; }
    public string[]? Triggers { get; init; }
    public bool Any { get; init; }
    public int Priority { get; init; } = 5;
    public Shape Shape { get; init; } = Shape.Slip;

    /// <summary>Seconds it stays; 0 for until closed.</summary>
    public int Stay { get; init; } = 7;
    public int Turns { get; init; } = 1;
    public int Pause { get; init; } = 12;
    public int Rounds { get; init; } = 1;
    public int Hush { get; init; } = 24;
    public bool IfThere { get; init; }
    public string[] On { get; init; } = [];
    public RepeatUnit Often { get; init; } = RepeatUnit.PageView;
    public bool Replaces { get; init; }

    /// <summary>Words of the visitor rule's only test, as "pagesThisVisit atLeast 2"; empty for everybody.</summary>
    public string Who { get; init; } = "";

    /// <summary>The brief: a notice, or a moment on the source where several turns are to be told.</summary>
    public Brief Brief(string name, Guid source)
    {
        var kind = Turns > 1 ? CalloutKind.Moment : CalloutKind.Notice;
        var starter = StarterBrief.For(kind, EventKind.Purchase, kind == CalloutKind.Moment ? [source] : []);
        return starter with
        {
            Priority = Priority,
            Say = starter.Say with
            {
                Message = kind == CalloutKind.Moment ? starter.Say.Message : $"A notice called {name}",
                Link = LinkTarget.Address,
                LinkAddress = "/shop",
                Picture = SayPicture.None,
            },
            From = starter.From with { LeastNumber = 1, Shuffle = false },
            Where = new WhereFacet(On, [], [], Replaces),
            Who = new WhoFacet(RuleOf(Who), []),
            When = starter.When with
            {
                Triggers = Triggers is null ? [Trigger.After(After)] : [.. Triggers.Select(Read)],
                Join = Any ? Join.Any : Join.All,
                Turns = Turns,
                TurnGapSeconds = Pause,
                Rounds = Rounds,
                OnlyIfAvailable = IfThere,
            },
            HowOften = starter.HowOften with { Unit = Often, MostPerWeek = null, HushHours = Hush },
            Look = starter.Look with
            {
                Shape = Shape,
                StaySeconds = Stay == 0 ? null : Stay,
                Anchor = Shape == Shape.Inset ? "#anchor" : "",
            },
        };
    }

    internal static VisitorRule RuleOf(string who) => who.Length == 0 ? VisitorRule.Everybody : Test(who.Split(' '));

    private static FactTest Test(string[] words) =>
        new(
            Enum.Parse<VisitorFact>(words[0], ignoreCase: true),
            Enum.Parse<FactComparison>(words[1], ignoreCase: true),
            words[2]
        );

    internal static Trigger Read(string words)
    {
        var parts = words.Split(' ', 2);
        var kind = Enum.Parse<TriggerKind>(parts[0], ignoreCase: true);
        return Trigger.Range(kind) is null
            ? new Trigger(kind, 0, parts.Length > 1 ? parts[1] : "")
            : new Trigger(kind, int.Parse(parts[1], CultureInfo.InvariantCulture));
    }
}

/// <summary>A greeting; what is not given has its start value.</summary>
public sealed record ScenarioGreeting
{
    /// <summary>Seconds after arrival; the only trigger unless <see cref="Triggers"/> are given.</summary>
    public int After { get; init; }
    public string[]? Triggers { get; init; }
    public string[] On { get; init; } = [];

    /// <summary>Words of the visitor rule's only test; empty for everybody.</summary>
    public string Who { get; init; } = "";
    public bool IfThere { get; init; }

    /// <summary>Whether it opens the panel.</summary>
    public bool Opens { get; init; }

    /// <summary>Seconds its bubble stays; 0 for until closed.</summary>
    public int Stay { get; init; } = LauncherStarter.StaySeconds;
    public RepeatUnit Often { get; init; } = RepeatUnit.Visit;
    public int Hush { get; init; } = 24;
    public bool Replaces { get; init; }

    public Rung Rung(Guid id, string name)
    {
        var start = LauncherStarter.Rung(GreetingPurpose.Own);
        return start with
        {
            Id = id,
            Where = new WhereFacet(On, [], [], Replaces),
            Who = new WhoFacet(ScenarioCallout.RuleOf(Who), []),
            When = start.When with
            {
                Triggers = Triggers is null ? [Trigger.After(After)] : [.. Triggers.Select(ScenarioCallout.Read)],
                OnlyIfAvailable = IfThere,
            },
            HowOften = start.HowOften with { Unit = Often, HushHours = Hush },
            Words = [new GreetingWords("", $"A greeting called {name}", [])],
            Does = Opens ? GreetingAct.OpenPanel : GreetingAct.Bubble,
            StaySeconds = Stay == 0 ? null : Stay,
        };
    }
}

/// <summary>A page of the journey.</summary>
/// <param name="Path">Where.</param>
/// <param name="Stay">Seconds until it is left.</param>
/// <param name="Acts">"seconds verb what": "54 close D", "3 scroll 60", "0 opens consent".</param>
public sealed record ScenarioPage(string Path, double Stay, string[]? Acts = null)
{
    /// <summary>Whether things of the page's own leave no room at the bottom edge.</summary>
    public bool Full { get; init; }

    public IReadOnlyList<ScenarioAct> Doings => [.. (Acts ?? []).Select(ScenarioAct.Read).OrderBy(a => a.AtMs)];
}

/// <summary>One act of a journey.</summary>
public sealed record ScenarioAct(long AtMs, string Verb, string What)
{
    public static ScenarioAct Read(string words)
    {
        var parts = words.Split(' ', 3);
        var seconds = double.Parse(parts[0], CultureInfo.InvariantCulture);
        return new ScenarioAct((long)Math.Round(seconds * 1000), parts[1], parts.Length > 2 ? parts[2] : "");
    }

    /// <summary>The act as the rehearsal takes it.</summary>
    public Act ToAct(IReadOnlyDictionary<string, Guid> ids) =>
        Verb switch
        {
            "close" => new Act(AtMs, ActKind.Close, ids[What]),
            "click" => new Act(AtMs, ActKind.Click, ids[What]),
            "hover" => new Act(AtMs, ActKind.Hover, ids[What]),
            "leave" => new Act(AtMs, ActKind.Leave, ids[What]),
            "hide" => new Act(AtMs, ActKind.Hide),
            "return" => new Act(AtMs, ActKind.Return),
            "scroll" => new Act(AtMs, ActKind.Scroll, Number: int.Parse(What, CultureInfo.InvariantCulture)),
            "see" => new Act(AtMs, ActKind.See, Target: What),
            "out" => new Act(AtMs, ActKind.PointerOut),
            "flick" => new Act(AtMs, ActKind.FlickUp),
            "tap" => new Act(AtMs, ActKind.ClickElement, Target: What),
            "video" => new Act(AtMs, ActKind.VideoEnds, Target: What),
            "event" => new Act(AtMs, ActKind.PageEvent, Target: What),
            "show" => new Act(AtMs, ActKind.Show, ids[What]),
            "move" => new Act(AtMs, ActKind.Move),
            "opens" => new Act(AtMs, ActKind.HoldOpens, Hold: Enum.Parse<HoldKind>(What, ignoreCase: true)),
            "closes" => new Act(AtMs, ActKind.HoldCloses, Hold: Enum.Parse<HoldKind>(What, ignoreCase: true)),
            // The visitor opens the launcher's panel by its button, and shuts it.
            "ask" => new Act(AtMs, ActKind.HoldOpens, Hold: HoldKind.Chat),
            "shut" => new Act(AtMs, ActKind.HoldCloses, Hold: HoldKind.Chat),
            "team" => new Act(AtMs, What == "leaves" ? ActKind.TeamLeaves : ActKind.TeamReturns),
            _ => throw new FormatException($"No such act: {Verb}"),
        };
}

/// <summary>Writes a timeline as scenarios spell it.</summary>
public static class Timeline
{
    public static string Line(int page, string what, string name, int showing, double seconds) =>
        string.Create(CultureInfo.InvariantCulture, $"{page} {what} {name}{showing} {seconds}");

    /// <summary>What a rehearsed page came to, ends before starts of the same instant.</summary>
    public static IEnumerable<string> Of(int page, PageOutcome outcome, Func<Guid, string> nameOf)
    {
        var numbered = outcome
            .Showings.GroupBy(s => s.Callout)
            .SelectMany(g => g.Select((s, i) => (Showing: s, Number: i + 1)));
        return numbered
            .SelectMany(x =>
                new[]
                {
                    (
                        At: x.Showing.StartMs,
                        Order: 1,
                        Line: Line(page, "start", nameOf(x.Showing.Callout), x.Number, x.Showing.StartMs / 1000.0)
                    ),
                    (
                        At: x.Showing.EndMs,
                        Order: x.Showing.EndMs == x.Showing.StartMs ? 2 : 0,
                        Line: Line(page, "end", nameOf(x.Showing.Callout), x.Number, x.Showing.EndMs / 1000.0)
                    ),
                }
            )
            .OrderBy(e => e.At)
            .ThenBy(e => e.Order)
            .ThenBy(e => e.Line, StringComparer.Ordinal)
            .Select(e => e.Line);
    }
}
