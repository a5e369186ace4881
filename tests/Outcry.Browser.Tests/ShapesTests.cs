using OpenQA.Selenium;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;

namespace Outcry.Browser.Tests;

/// <summary>Each shape as those meet it who read from the right, go by key, hold a phone, use a screen reader or want no motion.</summary>
[Collection("one browser at a time")]
public sealed class ShapesTests(Stage stage)
{
    // A bubble stands by a launcher's button, never by itself: LauncherWalkTests meets it there.
    public static TheoryData<Shape> Shapes => [.. Enum.GetValues<Shape>().Where(s => s != Shape.Bubble)];

    [Theory]
    [MemberData(nameof(Shapes))]
    public async Task A_shape_is_for_everybody(Shape shape)
    {
        var notice = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        await stage.PutLiveAsync(
            $"As a {shape}",
            _ =>
                notice with
                {
                    Say = notice.Say with
                    {
                        Message = "**The kiln** opens at nine",
                        Button = "Save a place",
                        Link = LinkTarget.Address,
                        LinkAddress = "/workshops",
                        Translations = [new Wording("ar", "**يُفتح الفرن** في التاسعة", "", "احجز مكانًا")],
                    },
                    Look = notice.Look with
                    {
                        Shape = shape,
                        StaySeconds = null,
                        Anchor = shape == Shape.Inset ? "h1" : "",
                    },
                }
        );
        using (var reader = Open("en", 1280))
        {
            reader.AxeFindsNothing();
            var close = Find(reader, ".close");
            Assert.NotNull(close);
            Assert.Equal("Close", close.GetAttribute("aria-label"));
            reader.Driver.ExecuteScript("arguments[0].focus()", close);
            close.SendKeys(Keys.Enter);
            reader.Wait(() => Find(reader, "[data-id]") is null ? "gone" : null, "it to be gone");
            Assert.Empty(reader.Errors());
        }
        using var phone = Open("ar", 390);
        Assert.Equal(
            "rtl",
            phone.Driver.ExecuteScript("return getComputedStyle(arguments[0]).direction", Find(phone, "[data-id]")!)
        );
        var box =
            (IReadOnlyCollection<object>)
                phone.Driver.ExecuteScript(
                    "const b = arguments[0].getBoundingClientRect(); return [Math.round(b.left), Math.round(b.right), document.documentElement.scrollWidth, document.documentElement.clientWidth]",
                    Find(phone, "[data-id]")!
                )!;
        var (left, right, width, view) = (
            (long)box.ElementAt(0),
            (long)box.ElementAt(1),
            (long)box.ElementAt(2),
            (long)box.ElementAt(3)
        );
        Assert.True(left >= 0 && right <= 390, $"{shape} lies from {left} to {right} of 390");
        Assert.True(width <= view, $"{shape} makes the page {width} wide in a view of {view}");
        phone.AxeFindsNothing();
    }

    private Chromium Open(string language, int width)
    {
        var browser = new Chromium();
        browser.Driver.ExecuteCdpCommand(
            "Emulation.setUserAgentOverride",
            new() { ["userAgent"] = Chromium.UserAgent, ["acceptLanguage"] = language }
        );
        browser.Driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new()
            {
                ["width"] = width,
                ["height"] = 800,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );
        browser.Driver.ExecuteCdpCommand(
            "Emulation.setEmulatedMedia",
            new()
            {
                ["features"] = new object[]
                {
                    new Dictionary<string, object> { ["name"] = "prefers-reduced-motion", ["value"] = "reduce" },
                },
            }
        );
        browser.Go($"{stage.Site}/studio");
        var shown = browser.Wait(() => Find(browser, "[data-id]"), "the callout");
        Assert.Equal(
            0L,
            browser.Driver.ExecuteScript(
                "return arguments[0].getAnimations({ subtree: true }).filter((a) => a.effect.getComputedTiming().duration > 1).length",
                shown
            )
        );
        return browser;
    }

    // Whatever is drawn stands in a shadow root of ours.
    private static IWebElement? Find(Chromium browser, string css) =>
        browser.Driver.ExecuteScript(
            """
            for (const host of document.querySelectorAll('*'))
              if (host.tagName.startsWith('OUTCRY-') && host.shadowRoot?.querySelector('[data-id]'))
                return host.shadowRoot.querySelector('[data-id]').matches(arguments[0])
                  ? host.shadowRoot.querySelector('[data-id]')
                  : host.shadowRoot.querySelector(arguments[0]);
            return null;
            """,
            css
        ) as IWebElement;
}
