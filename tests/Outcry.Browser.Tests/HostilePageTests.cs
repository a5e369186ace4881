using OpenQA.Selenium;
using Outcry.Core.Briefs;

namespace Outcry.Browser.Tests;

/// <summary>Pages that get in the way of scripts, by accident or not: ours works on them, and their console stays clean.</summary>
[Collection("one browser at a time")]
public sealed class HostilePageTests(Stage stage)
{
    // What pages really have: libraries that give lists a toJSON, names that hide the document's own, what others stored.
    private const string Hostile = """
        <!doctype html>
        <html>
        <head>
        <title>Hostile</title>
        <script nonce="NONCE">
        window.outcry = 'a word of the page';
        window.faults = [];
        addEventListener('error', (e) => faults.push(String(e.message)));
        addEventListener('unhandledrejection', (e) => faults.push(String(e.reason)));
        Array.prototype.toJSON = function () { return 'an old library'; };
        try { localStorage.setItem('outcry.KEY', '{"log":null,"passport":7}'); } catch {}
        window.invalid = 0;
        addEventListener('invalid', () => window.invalid++, true);
        window.sent = [];
        const hand = navigator.sendBeacon.bind(navigator);
        let refused = 0;
        navigator.sendBeacon = (url, body) => {
          if (String(body).includes('"form":{') && refused++ < 1) return false;
          sent.push(String(body));
          return hand(url, body);
        };
        </script>
        </head>
        <body>
        <main id="moved">
        <img name="forms" alt=""><img name="querySelectorAll" alt=""><img name="querySelector" alt=""><img name="createElement" alt="">
        <img name="hidden" alt=""><img name="currentScript" alt=""><img name="referrer" alt=""><img name="addEventListener" alt="">
        <img name="documentElement" alt=""><img name="readyState" alt=""><img name="elementsFromPoint" alt="">
        <form name="body"></form>
        <form id="newsletter" novalidate>
          <input name="elements"><input name="getAttribute"><input name="push"><input name="id"><input name="name">
          <input name="first_name" value="Noor"><input name="email" type="email" value="noor@example.org">
          <input name="must" required>
          <button id="go">Join</button>
        </form>
        </main>
        SNIPPET
        <script nonce="NONCE">
        document.forms; // the picture, not the list
        const form = document.getElementById('newsletter');
        form.addEventListener('submit', (e) => e.preventDefault());
        // A body under which "fixed" means the body.
        Object.assign(form.closest('body').style, { transform: 'translateY(3000px)', filter: 'saturate(1)', contain: 'paint', height: '200px' });
        </script>
        </body>
        </html>
        """;

    // Strict pages let no picture in from elsewhere, whoever bought last; the browser itself would say so in the console.
    private static Brief Lasting(Brief brief) =>
        brief with
        {
            Look = brief.Look with { StaySeconds = null },
            Say = brief.Say with { Picture = SayPicture.Initials },
        };

    private static readonly string[] Answers = ["{}", "[]", "null", "7", "{\"cues\":7}", "{\"cues\":[{}]}", "<html>"];

    [Fact]
    public async Task A_page_that_hides_everything_gets_its_slip_and_hears_nothing_of_us()
    {
        await using var pages = await ForeignPages.ServeAsync(
            stage,
            Hostile.Replace("outcry.KEY", $"outcry.{stage.World.Site.Key}", StringComparison.Ordinal),
            isStrict: true
        );
        await stage.PutLiveAsync("Hostile", Lasting);
        await stage.GiveEventAsync();
        using var visitor = new Chromium();
        visitor.Go($"{pages.Origin}/hostile");

        // The test's own way of looking at pages stumbles here too, so it asks past the page's names.
        var top = visitor.Wait(
            () =>
                visitor.Driver.ExecuteScript(
                    "const find = Document.prototype.querySelector.call(document, 'outcry-callouts')?.shadowRoot.querySelector('.slip.in');"
                        + "return find ? String(find.getBoundingClientRect().top) : null"
                ) as string,
            "a slip"
        );
        Assert.InRange(double.Parse(top, System.Globalization.CultureInfo.InvariantCulture), 0, 900);

        visitor.Driver.ExecuteScript("HTMLElement.prototype.click.call(go)");
        visitor.Wait(
            () =>
                (bool)visitor.Driver.ExecuteScript("return sent.some((s) => s.includes('\"form\":{'))")!
                    ? "sent"
                    : null,
            "the form, handed over again"
        );
        Assert.Equal(0L, visitor.Driver.ExecuteScript("return window.invalid"));
        AssertClean(visitor);
    }

    [Theory]
    [InlineData("7")]
    [InlineData("[['track', 'early']]")]
    [InlineData("[7, null, ['track'], ['identify']]")]
    [InlineData("{ push: 1 }")]
    public async Task Whatever_stands_where_our_calls_go_the_page_does_not_break(string there)
    {
        await using var pages = await ForeignPages.ServeAsync(stage, Page($"window.outcry = {there};"));
        await stage.PutLiveAsync("Hostile", b => b with { Say = b.Say with { Picture = SayPicture.Initials } });
        await stage.GiveEventAsync();
        using var visitor = new Chromium();
        visitor.Go($"{pages.Origin}/calls").SeeSlip();
        AssertClean(visitor);
    }

    [Fact]
    public async Task Whatever_answers_in_our_place_the_page_does_not_break()
    {
        await stage.PutLiveAsync("Hostile", b => b with { Say = b.Say with { Picture = SayPicture.Initials } });
        await using var pages = await ForeignPages.ServeAsync(
            stage,
            Page(
                "const answer = decodeURIComponent(location.search.slice(1)); window.fetch = async () => new Response(answer, { status: 200 });"
            )
        );
        using var visitor = new Chromium();
        foreach (var answer in Answers)
        {
            visitor.Go($"{pages.Origin}/answers?{Uri.EscapeDataString(answer)}");
            await Task.Delay(600);
            AssertClean(visitor);
        }
    }

    [Fact]
    public async Task A_ribbon_is_measured_as_it_is_drawn_and_a_selector_that_cannot_be_read_silences_nothing()
    {
        await using var pages = await ForeignPages.ServeAsync(
            stage,
            Page("")
                .Replace(
                    "</body>",
                    "<div id=\"kept\" style=\"position:fixed;bottom:0;left:0;width:100%;height:60px\">Cookies</div></body>",
                    StringComparison.Ordinal
                )
        );
        await stage.PutLiveAsync(
            "Ribbon",
            b => b with { Look = b.Look with { Shape = Shape.Ribbon, Edge = Edge.Bottom, StaySeconds = null } }
        );
        await stage.KeepRulesAsync(Stage.Rules with { KeepClear = ".fine, [[" });
        await stage.Sites.ReloadAsync(stage.World.Site.Id, CancellationToken.None);
        await stage.GiveEventAsync();
        using var visitor = new Chromium();
        try
        {
            visitor.Go($"{pages.Origin}/ribbon");
            var gap = visitor.Wait(
                () =>
                    visitor.Driver.ExecuteScript(
                        "const box = document.querySelector('outcry-callouts')?.shadowRoot.querySelector('.ribbon.in');"
                            + "return box ? String(kept.getBoundingClientRect().top - box.getBoundingClientRect().bottom) : null"
                    ) as string,
                "the ribbon"
            );
            Assert.InRange(double.Parse(gap, System.Globalization.CultureInfo.InvariantCulture), 0, 40);
            AssertClean(visitor);
        }
        finally
        {
            await stage.KeepRulesAsync(Stage.Rules);
        }
    }

    private static string Page(string script) =>
        $$"""
            <!doctype html><title>A page</title>
            <script>
            window.faults = [];
            addEventListener('error', (e) => faults.push(String(e.message)));
            addEventListener('unhandledrejection', (e) => faults.push(String(e.reason)));
            {{script}}
            </script>
            <body><p>Here</p>SNIPPET</body>
            """;

    private static void AssertClean(Chromium visitor)
    {
        Assert.Equal("", visitor.Driver.ExecuteScript("return faults.join('\\n')"));
        var told = visitor
            .Driver.Manage()
            .Logs.GetLog(LogType.Browser)
            .Where(l => !l.Message.Contains("favicon", StringComparison.Ordinal))
            .Select(l => l.Message);
        Assert.Empty(told);
    }
}
