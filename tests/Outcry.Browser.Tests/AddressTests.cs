using Outcry.Core.Targeting;

namespace Outcry.Browser.Tests;

/// <summary>What of a page's address leaves the browser.</summary>
[Collection("one browser at a time")]
public sealed class AddressTests(Stage stage)
{
    private const string Secret = "s3cr3t";

    // Everything the page sends is noted on its way out, from before its first script.
    private const string WiretapScript = """
        window.sent = [];
        const note = (url, body) => window.sent.push(String(url) + ' ' + String(body ?? ''));
        const [ask, beacon] = [window.fetch, navigator.sendBeacon.bind(navigator)];
        window.fetch = (url, options) => { note(url, options && options.body); return ask(url, options); };
        navigator.sendBeacon = (url, body) => { note(url, body); return beacon(url, body); };
        """;

    private static string Sent(Chromium browser, string path)
    {
        browser.Go($"{browser.Driver.Url.Split('/')[0]}//{path}").WaitForSnippet();
        // The first signals of a page go by themselves, the last ones when it is hidden.
        browser.Driver.ExecuteScript(
            "Object.defineProperty(document, 'visibilityState', { value: 'hidden' }); document.dispatchEvent(new Event('visibilitychange')); dispatchEvent(new Event('pagehide'))"
        );
        var sent = $"{browser.Driver.ExecuteScript("return window.sent.join('\\n')")}";
        Assert.Contains("/v/plan", sent, StringComparison.Ordinal);
        Assert.Contains("/v/signals", sent, StringComparison.Ordinal);
        return sent;
    }

    [Fact]
    public async Task Of_a_query_only_campaigns_and_what_a_rule_asks_for_are_sent_and_nothing_of_a_fragment()
    {
        await stage.PutLiveAsync(
            "Blue",
            b => b with { Where = new WhereFacet(["/shop?colour=blue"], [], [], Replaces: false) }
        );
        await Task.Delay(500);
        using var visitor = new Chromium();
        visitor.Driver.ExecuteCdpCommand(
            "Page.addScriptToEvaluateOnNewDocument",
            new Dictionary<string, object?> { ["source"] = WiretapScript }
        );
        visitor.Go($"{stage.Site}/");
        var shop = new Uri(stage.Site).Authority;

        var sent = Sent(
            visitor,
            $"{shop}/shop?colour=blue&utm_source=letter&token={Secret}&email=noor@{Secret}.example#access_token={Secret}"
        );

        Assert.DoesNotContain(Secret, sent, StringComparison.Ordinal);
        Assert.Contains("colour=blue", sent, StringComparison.Ordinal);
        Assert.Contains("utm_source=letter", sent, StringComparison.Ordinal);
        // Where it was come from is told by its host, or not at all.
        var next = Sent(visitor, $"{shop}/workshops");
        Assert.DoesNotContain(Secret, next, StringComparison.Ordinal);
    }
}
