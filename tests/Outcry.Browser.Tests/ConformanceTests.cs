using System.Globalization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using OpenQA.Selenium;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Tests.Shared;

namespace Outcry.Browser.Tests;

/// <summary>The browser in which all scenarios are walked, one after another.</summary>
public sealed class OneBrowser : IDisposable
{
    internal Chromium Chromium { get; } = new();

    public void Dispose() => Chromium.Dispose();
}

/// <summary>
/// Walks the scenarios with the real snippet on the real demo site, on a clock that the test moves on: it must come to the
/// timeline that the rehearsal comes to. A start may be up to 100 ms late, never early.
/// </summary>
[Collection("one browser at a time")]
public sealed class ConformanceTests(Stage stage, OneBrowser browser) : IClassFixture<OneBrowser>
{
    private const int LatestMs = 100;
    private const string Team = "conformance";

    public static TheoryData<string> Names => [.. Scenario.All.Select(s => s.Name)];

    [Theory]
    [MemberData(nameof(Names))]
    public async Task The_snippet_comes_to_the_timeline(string name)
    {
        var scenario = Scenario.All.Single(s => s.Name == name);
        await stage.KeepRulesAsync(scenario.Rules.HouseRules);
        var names = await PublishAsync(scenario);
        // The lines of desks that other tests had open end when their browsers' sockets do, a moment later.
        for (var i = 0; i < 300 && stage.Team.IsThere(stage.World.Workspace.Id); i++)
            await Task.Delay(100);
        Assert.Empty(stage.Team.NamesOf(stage.World.Workspace.Id));
        stage.Team.Came(Team, stage.World.Workspace.Id, Guid.Empty, Guid.Empty, "Somebody");
        var walk = new ScenarioWalk(browser.Chromium, stage, scenario, Team);
        walk.Begin();
        var walked = new List<WalkedMoment>();
        try
        {
            for (var page = 0; page < scenario.Pages.Length; page++)
                walked.AddRange(walk.Page(page, names));
        }
        finally
        {
            walk.End();
            stage.Team.Went(Team);
            await stage.KeepRulesAsync(Stage.Rules);
        }
        AssertSame(scenario.Timeline, walked);
    }

    private static void AssertSame(string[] expected, List<WalkedMoment> walked)
    {
        var lines = walked.Select(w => w.Line).ToList();
        var same =
            expected.Length == walked.Count
            && expected
                .Select(Read)
                .Zip(walked)
                .All(p => p.First.What == p.Second.What && p.Second.AtMs - p.First.AtMs is >= 0 and <= LatestMs);
        Assert.True(same, $"expected:\n{string.Join('\n', expected)}\nwalked:\n{string.Join('\n', lines)}");
    }

    private static (string What, long AtMs) Read(string line)
    {
        var space = line.LastIndexOf(' ');
        return (line[..space], (long)(double.Parse(line[(space + 1)..], CultureInfo.InvariantCulture) * 1000));
    }

    private async Task<Dictionary<string, Guid>> PublishAsync(Scenario scenario)
    {
        await using var db = stage.Database.Open();
        foreach (var other in db.Definitions)
            other.State = DefinitionState.Archived;
        var now = SystemClock.Instance.GetCurrentInstant();
        var ids = new Dictionary<string, Guid>();
        foreach (var ((name, callout), place) in scenario.Callouts.Select((c, i) => (c, i)))
        {
            var brief = callout.Brief(name, stage.World.Checkout.Id);
            var row = Row(name, BriefKind.Callout, KeptContent.Of(brief), now + Duration.FromSeconds(place));
            ids[name] = row.Id;
            db.Definitions.Add(row);
            db.Revisions.Add(row.Freeze(now, "Marta Quill"));
        }
        if (scenario.Launcher(ids) is { } launcher)
        {
            var row = Row("Launcher", LauncherKind.Launcher, KeptContent.Of(launcher), now + Duration.FromSeconds(60));
            db.Definitions.Add(row);
            db.Revisions.Add(row.Freeze(now, "Marta Quill"));
        }
        await db.SaveChangesAsync();
        // Enough different people for moments of several turns, and nobody of an earlier scenario.
        await db.Events.Where(e => e.SiteId == stage.World.Site.Id).ExecuteDeleteAsync();
        await stage.GivePurchasesAsync(
            "conformance",
            [.. Enumerable.Range(1, 8).Select(minutes => now - Duration.FromMinutes(minutes))]
        );
        return ids;
    }

    private DefinitionRow Row(string name, string kind, KeptContent content, Instant made) =>
        new()
        {
            WorkspaceId = stage.World.Workspace.Id,
            SiteId = stage.World.Site.Id,
            Name = name,
            State = DefinitionState.Live,
            Kind = kind,
            Draft = content,
            DraftVersion = 1,
            CreatedAt = made,
            ChangedAt = made,
            ChangedBy = "Marta Quill",
        };
}

/// <summary>Something that came or went on a page.</summary>
internal sealed record WalkedMoment(int Page, string What, long AtMs)
{
    public string Line => string.Create(CultureInfo.InvariantCulture, $"{What} {AtMs / 1000.0}");
}

/// <summary>One walk through a scenario's pages.</summary>
internal sealed class ScenarioWalk(Chromium chromium, Stage stage, Scenario scenario, string team)
{
    private static readonly string Clock = File.ReadAllText(Path.Combine(Scenario.Folder(), "clock.js"));
    private long _baseMs = SystemClock.Instance.GetCurrentInstant().ToUnixTimeMilliseconds();

    public void Begin()
    {
        // A new visitor: nothing of an earlier walk may be remembered.
        chromium.Go($"{stage.Site}/img/first-pot-kit.svg");
        chromium.Driver.ExecuteScript("localStorage.clear(); sessionStorage.clear()");
        if (!scenario.Phone)
            return;
        Cdp(
            "Emulation.setDeviceMetricsOverride",
            new()
            {
                ["width"] = 390,
                ["height"] = 800,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = true,
            }
        );
    }

    public void End()
    {
        Cdp("Emulation.clearDeviceMetricsOverride", []);
    }

    /// <summary>Walks one page and says what came and went.</summary>
    public IReadOnlyList<WalkedMoment> Page(int index, Dictionary<string, Guid> ids)
    {
        var page = scenario.Pages[index];
        var script = Install(page);
        chromium.Go(stage.Site + page.Path);
        Async("(window.outcry ??= []).push(['visitor', () => done(1)])");
        Async("outcryClock.settle(60).then(() => done(1))");
        foreach (var act in page.Doings)
        {
            MoveTo(act.AtMs);
            Do(act, ids);
        }
        MoveTo((long)(page.Stay * 1000));
        var moments = Read(index + 1, (long)(page.Stay * 1000), ids);
        Cdp("Page.removeScriptToEvaluateOnNewDocument", new() { ["identifier"] = script });
        // The page itself is left in good order, so that the snippet notes it.
        _baseMs += (long)(page.Stay * 1000);
        return moments;
    }

    private string Install(ScenarioPage page)
    {
        var openFromTheStart = page.Doings.Any(a => a is { AtMs: 0, Verb: "opens", What: "consent" });
        var setting =
            $"{{ consent: {(openFromTheStart ? "true" : "false")}, full: {(page.Full ? "true" : "false")}, touch: {(scenario.Phone ? "true" : "false")} }}";
        var source = Clock
            .Replace("/*BASE*/ 0", _baseMs.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal)
            .Replace("/*SETTING*/ {}", setting, StringComparison.Ordinal);
        var answer = Cdp("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = source });
        return (string)((Dictionary<string, object>)answer!)["identifier"];
    }

    private void MoveTo(long ms) => Async($"outcryClock.to({ms}).then(() => done(1))");

    private void Do(ScenarioAct act, Dictionary<string, Guid> ids)
    {
        if (act.Verb == "team")
        {
            if (act.What == "leaves")
                stage.Team.Went(team);
            else
                stage.Team.Came(team, stage.World.Workspace.Id, Guid.Empty, Guid.Empty, "Somebody");
            return;
        }
        var id = ids.TryGetValue(act.What, out var known) ? known.ToString() : "";
        chromium.Driver.ExecuteScript(DoScript, act.Verb, act.What, id);
        // Scrolling and coming into view are told by the browser a frame or two later.
        Async($"outcryClock.settle({(act.Verb is "scroll" or "see" or "flick" ? 150 : 0)}).then(() => done(1))");
        if (act.Verb != "flick")
            return;
        chromium.Driver.ExecuteScript("scrollTo(0, 0)");
        Async("outcryClock.settle(150).then(() => done(1))");
    }

    private List<WalkedMoment> Read(int page, long endMs, Dictionary<string, Guid> ids)
    {
        var seen = (IReadOnlyCollection<object>)chromium.Driver.ExecuteScript("return outcryClock.seen")!;
        var left = (IReadOnlyCollection<object>)chromium.Driver.ExecuteScript("return outcryClock.left()")!;
        var names = ids.ToDictionary(i => i.Value.ToString(), i => i.Key);
        var raw = seen.Select(s => ((IReadOnlyCollection<object>)s).ToArray())
            .Select(s => ((string)s[0], (string)s[1], (long)Convert.ToDouble(s[2], CultureInfo.InvariantCulture)))
            .Concat(left.Select(l => ("end", (string)l, endMs)));
        var numbers = new Dictionary<string, int>();
        var moments = new List<WalkedMoment>();
        foreach (var (what, id, at) in raw)
        {
            var name = names[id];
            if (what == "start")
                numbers[name] = numbers.GetValueOrDefault(name) + 1;
            moments.Add(new WalkedMoment(page, $"{page} {what} {name}{numbers[name]}", at));
        }
        // As the rehearsal tells them: at one instant ends before starts, then by name.
        return
        [
            .. moments
                .OrderBy(m => m.AtMs)
                .ThenBy(m => m.What.Contains(" start ", StringComparison.Ordinal))
                .ThenBy(m => m.What, StringComparer.Ordinal),
        ];
    }

    private const string DoScript = """
        const [verb, what, id] = arguments;
        const on = id && outcryClock.find(id);
        const height = () => document.documentElement.scrollHeight;
        const hide = (hidden) => {
          Object.defineProperty(Document.prototype, 'hidden', { get: () => hidden, configurable: true });
          document.dispatchEvent(new Event('visibilitychange', { bubbles: true }));
        };
        const launcher = () => document.querySelector('outcry-launcher').shadowRoot;
        const holds = { consent: () => document.querySelector('#consent'), chat: () => document.querySelector('#chat') };
        const acts = {
          close: () => on.querySelector('.close').click(),
          // A greeting is answered by its bubble, or by whatever is done in the panel that it opened.
          click: () => on.querySelector('.says, .write, a').click(),
          ask: () => launcher().querySelector('.tab').click(),
          shut: () => launcher().querySelector('.panel .close').click(),
          hover: () => on.dispatchEvent(new PointerEvent('pointerenter')),
          leave: () => on.dispatchEvent(new PointerEvent('pointerleave')),
          hide: () => hide(true),
          return: () => hide(false),
          scroll: () => scrollTo(0, Math.ceil((Number(what) / 100) * height() - innerHeight) + 1),
          flick: () => scrollTo(0, innerHeight * 2),
          see: () => document.querySelector(what).scrollIntoView({ block: 'center' }),
          out: () => document.documentElement.dispatchEvent(new MouseEvent('mouseout', { bubbles: true, clientY: -1 })),
          tap: () => document.querySelector(what).click(),
          video: () => document.querySelector(what).dispatchEvent(new Event('ended')),
          event: () => outcry.track(what),
          show: () => outcry.push(['show', id]),
          move: () => document.body.dispatchEvent(new PointerEvent('pointermove', { bubbles: true })),
          opens: () => (what === 'dialog' ? document.querySelector('#own').show() : (holds[what]().hidden = false)),
          closes: () => (what === 'dialog' ? document.querySelector('#own').close() : (holds[what]().hidden = true)),
        };
        acts[verb]();
        """;

    private void Async(string script) =>
        // Not the driver's own way of waiting, which needs the page's timers, and these stand still.
        Cdp(
            "Runtime.evaluate",
            new()
            {
                ["expression"] = // What never comes is told as such, instead of waiting for ever.
                    $"Promise.race([new Promise((done) => {{ {script} }}), outcryClock.after(15000)])",
                ["awaitPromise"] = true,
                ["timeout"] = 20_000,
            }
        );

    private object? Cdp(string command, Dictionary<string, object?> parameters) =>
        chromium.Driver.ExecuteCdpCommand(command, parameters);
}
