using NodaTime;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using Outcry.Core.Briefs;
using Outcry.Core.Timing;

namespace Outcry.Browser.Tests;

/// <summary>What happens to pages that are open already: in other tabs, after consent, while their address changes, when something ends.</summary>
[Collection("one browser at a time")]
public sealed class OpenPageTests(Stage stage)
{
    private const string CountPlans = """
        window.asked = [];
        const ask = window.fetch;
        window.fetch = (url, options) => {
          if (String(url).endsWith('/v/plan')) window.asked.push(JSON.parse(options.body).page);
          return ask(url, options);
        };
        """;

    private static Brief Standing(Brief brief) =>
        brief with
        {
            HowOften = brief.HowOften with { Unit = RepeatUnit.PageView, MostPerWeek = null },
            Look = brief.Look with { StaySeconds = null },
        };

    private static long Asked(Chromium visitor) => (long)visitor.Driver.ExecuteScript("return window.asked.length")!;

    private Chromium Visitor()
    {
        var visitor = new Chromium();
        visitor.Driver.ExecuteCdpCommand(
            "Page.addScriptToEvaluateOnNewDocument",
            new Dictionary<string, object?> { ["source"] = CountPlans }
        );
        return visitor;
    }

    [Fact]
    public async Task A_close_in_one_tab_is_a_close_in_all()
    {
        await stage.PutLiveAsync("Tabs", Standing);
        await stage.GiveEventAsync();
        using var visitor = Visitor();
        visitor.Go($"{stage.Site}/").SeeSlip();
        var first = visitor.Driver.CurrentWindowHandle;
        visitor.Driver.SwitchTo().NewWindow(WindowType.Tab);
        visitor.Go($"{stage.Site}/shop").SeeSlip();
        visitor.CloseSlip();
        visitor.Driver.SwitchTo().Window(first);
        visitor.Wait(() => visitor.FindSlip() is null ? "gone" : null, "no slip in the first tab");
        // Nor does it come back there: the hush of the other tab's close is in the passport that the next page asks with.
        visitor.Go($"{stage.Site}/workshops").WaitForSnippet();
        await Task.Delay(2_000);
        visitor.SeeNoSlip();
    }

    [Fact]
    public async Task What_the_page_says_is_open_holds_until_it_says_otherwise_whatever_moves_meanwhile()
    {
        await stage.PutLiveAsync("Said", Standing);
        await stage.GiveEventAsync();
        using var visitor = new Chromium();
        // Said before the script is there, as by a page that opens its own chat at once.
        visitor.Driver.ExecuteCdpCommand(
            "Page.addScriptToEvaluateOnNewDocument",
            new Dictionary<string, object?> { ["source"] = "(window.outcry ??= []).push(['hold', 'chat', true])" }
        );
        visitor.Go($"{stage.Site}/").WaitForSnippet();
        visitor.Driver.ExecuteScript("document.body.append(document.createElement('p'))");
        await Task.Delay(3_000);
        visitor.SeeNoSlip();
        visitor.Driver.ExecuteScript("outcry.hold('chat', false)");
        visitor.SeeSlip();
    }

    [Fact]
    public async Task What_the_page_tells_before_its_plan_is_there_counts()
    {
        await stage.PutLiveAsync(
            "Told early",
            brief =>
                Standing(brief) with
                {
                    When = brief.When with { Triggers = [new Trigger(TriggerKind.PageEvent, Target: "quiz-done")] },
                }
        );
        await stage.GiveEventAsync();
        using var visitor = new Chromium();
        visitor.Driver.ExecuteCdpCommand(
            "Page.addScriptToEvaluateOnNewDocument",
            new Dictionary<string, object?> { ["source"] = "(window.outcry ??= []).push(['track', 'quiz-done'])" }
        );
        visitor.Go($"{stage.Site}/").SeeSlip();
    }

    [Fact]
    public async Task Going_back_to_a_page_does_not_lose_a_close()
    {
        await stage.PutLiveAsync("Back", Standing);
        await stage.GiveEventAsync();
        using var visitor = Visitor();
        visitor.Go($"{stage.Site}/").SeeSlip();
        visitor.Go($"{stage.Site}/shop").SeeSlip();
        visitor.CloseSlip();
        await visitor.Driver.Navigate().BackAsync();
        await Task.Delay(3_000);
        visitor.SeeNoSlip();
        visitor.Go($"{stage.Site}/workshops").WaitForSnippet();
        await Task.Delay(2_000);
        visitor.SeeNoSlip();
    }

    [Fact]
    public async Task Consent_counts_no_page_and_ends_nothing()
    {
        await stage.PutLiveAsync("Consent", Standing);
        await stage.GiveEventAsync();
        using var visitor = Visitor();
        visitor.Go($"{stage.Site}/").SeeSlip();
        var slip = visitor.FindSlip();
        var pages = await PagesAsync();
        visitor.Driver.ExecuteScript("outcry.consent(true)");
        visitor.Wait(() => Asked(visitor) == 2 ? "asked" : null, "a second question");
        await Task.Delay(1_500);
        Assert.True(slip!.Displayed);
        Assert.Equal(pages, await PagesAsync());

        async Task<int> PagesAsync()
        {
            // Signals are on their way for a moment.
            await Task.Delay(1_500);
            await using var command = stage.Data.CreateCommand("select count(*)::int from signals where kind = 1");
            return (int)(await command.ExecuteScalarAsync())!;
        }
    }

    [Fact]
    public async Task A_storm_of_addresses_is_asked_about_once_and_only_for_another_page()
    {
        await stage.PutLiveAsync("Storm", Standing);
        await stage.GiveEventAsync();
        using var visitor = Visitor();
        visitor.Go($"{stage.Site}/").SeeSlip();
        visitor.Driver.ExecuteScript(
            "for (let i = 0; i < 40; i++) history.replaceState(null, '', `/?token=${i}#part-${i}`)"
        );
        await Task.Delay(1_000);
        Assert.Equal(1, Asked(visitor));
        Assert.NotNull(visitor.FindSlip());
        visitor.Driver.ExecuteScript("for (let i = 0; i < 40; i++) history.pushState(null, '', `/shop/${i}`)");
        await Task.Delay(1_500);
        Assert.Equal(2, Asked(visitor));
        visitor.Driver.ExecuteScript("outcry.push(['page'])");
        visitor.Wait(() => Asked(visitor) == 3 ? "asked" : null, "a page view that the page itself reports");
    }

    [Fact]
    public async Task What_ends_leaves_the_screen_on_the_second_and_what_is_paused_with_the_next_sign_of_life()
    {
        var id = await stage.PutLiveAsync("Ends", Standing);
        await stage.GiveEventAsync();
        using var visitor = Visitor();
        var until = LocalIn(8);
        await stage.ChangeAsync(id, s => s with { Until = until });
        visitor.Go($"{stage.Site}/").SeeSlip();
        visitor.Wait(() => visitor.FindSlip() is null ? "gone" : null, "the end of its dates");
        Assert.InRange((stage.Now() - until).ToDuration().TotalSeconds, 0, 2);
        await stage.ChangeAsync(id, s => s with { Until = null });
        visitor.Go($"{stage.Site}/shop").SeeSlip();
        await stage.PauseAsync(id);
        var paused = SystemClock.Instance.GetCurrentInstant();
        for (var i = 0; i < 32 && visitor.FindSlip() is not null; i++)
            await Task.Delay(1_000);
        Assert.Null(visitor.FindSlip());
        Assert.InRange((SystemClock.Instance.GetCurrentInstant() - paused).TotalSeconds, 0, 32);

        LocalDateTime LocalIn(int seconds) => stage.Now().PlusSeconds(seconds);
    }

    private const string Cards = """
        const cards = [...document.querySelector('outcry-callouts')?.shadowRoot.querySelectorAll('.slip') ?? []];
        return cards.map((c) => { const r = c.getBoundingClientRect(); return [r.top, r.bottom, c.matches('.behind') ? 1 : 0, c.matches('.out') ? 1 : 0].join(' '); }).join('|');
        """;

    /// <summary>Of every card: top and bottom in CSS pixels, whether it stands behind another, whether its corner is out.</summary>
    private static List<(double Top, double Bottom, bool Behind, bool Out)> CardsOf(Chromium visitor) =>
        [
            .. ((string)visitor.Driver.ExecuteScript(Cards)!)
                .Split('|', StringSplitOptions.RemoveEmptyEntries)
                .Select(c => c.Split(' '))
                .Select(c => (Number(c[0]), Number(c[1]), c[2] == "1", c[3] == "1")),
        ];

    private static double Number(string text) => double.Parse(text, System.Globalization.CultureInfo.InvariantCulture);

    [Fact]
    public async Task Cards_of_one_corner_stand_behind_one_another_and_come_out_for_the_pointer_and_the_focus()
    {
        await stage.KeepRulesAsync(Stage.Rules with { MostAtOnce = 3 });
        try
        {
            await stage.PutLiveAsync("First", Standing);
            await stage.PutLiveBesideAsync("Second", Standing);
            await stage.PutLiveBesideAsync("Third", Standing);
            await stage.GiveEventAsync();
            using var visitor = Visitor();
            visitor.Go($"{stage.Site}/");
            visitor.Wait(() => CardsOf(visitor).Count == 3 ? "three" : null, "three cards");
            await Task.Delay(400);
            var stacked = CardsOf(visitor);
            Assert.Equal([true, true, false], stacked.Select(c => c.Behind));
            // The newest is in front at the corner; of the others a strip looks out above it.
            Assert.InRange(stacked[2].Top - stacked[1].Top, 4, 16);
            Assert.InRange(stacked[1].Top - stacked[0].Top, 4, 16);
            Assert.True(stacked[0].Bottom <= stacked[2].Bottom + 1);

            var slips = visitor.Driver.FindElement(By.CssSelector("outcry-callouts")).GetShadowRoot();
            new Actions(visitor.Driver).MoveToElement(slips.FindElements(By.CssSelector(".slip"))[2]).Perform();
            visitor.Wait(() => CardsOf(visitor).All(c => c.Out) ? "out" : null, "all to come out");
            await Task.Delay(400);
            var out3 = CardsOf(visitor);
            Assert.True(out3[0].Bottom < out3[1].Top && out3[1].Bottom < out3[2].Top, string.Join(", ", out3));
            // The pointer goes up from card to card and loses none.
            new Actions(visitor.Driver)
                .MoveToElement(slips.FindElements(By.CssSelector(".slip"))[0])
                .Perform();
            await Task.Delay(400);
            Assert.All(CardsOf(visitor), c => Assert.True(c.Out));
            visitor.AxeFindsNothing();

            new Actions(visitor.Driver).MoveToLocation(20, 20).Perform();
            visitor.Wait(() => CardsOf(visitor).All(c => !c.Out) ? "in" : null, "all to go back");
            visitor.Driver.ExecuteScript("arguments[0].focus()", slips.FindElements(By.CssSelector(".slip .close"))[0]);
            visitor.Wait(() => CardsOf(visitor).All(c => c.Out) ? "out" : null, "all to come out for the keyboard");
            // A close is of its own card; the others close up, in a hush that nothing new comes into.
            new Actions(visitor.Driver)
                .SendKeys(Keys.Escape)
                .Perform();
            visitor.Wait(() => CardsOf(visitor).Count == 2 ? "two" : null, "the closed one to go");
            Assert.Empty(visitor.Errors());
        }
        finally
        {
            await stage.KeepRulesAsync(Stage.Rules);
        }
    }

    // A page that the browser makes ready beforehand, and a note of its own that it did.
    private const string Ahead = """
        <!doctype html><html lang="en"><head><title>Ahead</title>
        <script type="speculationrules">{ "prerender": [{ "source": "list", "urls": ["/ahead"], "eagerness": "immediate" }] }</script>
        <script>if (document.prerendering) localStorage.ahead = location.pathname;</script>
        SNIPPET</head><body><p><a id="on" href="/ahead">On</a></p></body></html>
        """;

    [Fact]
    public async Task A_page_made_ready_beforehand_counts_once_it_is_looked_at_and_not_before()
    {
        await using var pages = await ForeignPages.ServeAsync(stage, Ahead);
        await stage.PutLiveAsync("Ahead", Standing);
        await stage.GiveEventAsync();
        using var visitor = new Chromium();
        visitor.Go($"{pages.Origin}/first").SeeSlip();
        visitor.Wait(
            () => visitor.Driver.ExecuteScript("return localStorage.ahead ?? null") as string,
            "the browser to make the next page ready"
        );
        await Task.Delay(2_000);
        Assert.Equal(0, await ViewsOfAsync("/ahead"));
        visitor.Click("#on");
        visitor.Wait(
            () => visitor.Driver.Url.EndsWith("/ahead", StringComparison.Ordinal) ? "there" : null,
            "the next page"
        );
        visitor.SeeSlip();
        for (var looks = 0; looks < 50 && await ViewsOfAsync("/ahead") == 0; looks++)
            await Task.Delay(200);
        Assert.Equal(1, await ViewsOfAsync("/ahead"));
    }

    private async Task<long> ViewsOfAsync(string path)
    {
        await using var command = stage.Data.CreateCommand("select count(*) from signals where path = $1 and kind = 1");
        command.Parameters.AddWithValue(path);
        return (long)(await command.ExecuteScalarAsync())!;
    }
}
