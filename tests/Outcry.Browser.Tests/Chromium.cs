using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;
using Outcry.Tests.World;

namespace Outcry.Browser.Tests;

/// <summary>One person's browser: headless Chromium with a profile of its own.</summary>
internal sealed class Chromium : IDisposable
{
    /// <summary>A person's. A headless browser says that it is one, and is then taken for a robot, which does not count.</summary>
    public const string UserAgent =
        "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0.0.0 Safari/537.36";

    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(30);
    private readonly string _profile = Directory.CreateTempSubdirectory("outcry-browser-").FullName;
    private readonly ChromeDriverService _service;

    public Chromium()
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-dev-shm-usage",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--window-size=1280,900",
            // A headless browser has no mouse and so says that it cannot hover, as only touch screens do.
            "--blink-settings=primaryHoverType=2,availableHoverTypes=2,primaryPointerType=4,availablePointerTypes=4",
            $"--user-agent={UserAgent}",
            $"--user-data-dir={_profile}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        _service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        Driver = new ChromeDriver(_service, options);
    }

    public ChromeDriver Driver { get; }

    public void Dispose()
    {
        Driver.Quit();
        _service.Dispose();
        Directory.Delete(_profile, recursive: true);
    }

    public Chromium Go(string url)
    {
        Driver.Navigate().GoToUrl(url);
        return this;
    }

    /// <summary>Waits for something; elements that are drawn anew meanwhile are looked for again.</summary>
    public T Wait<T>(Func<T?> look, string what)
        where T : class
    {
        var wait = new WebDriverWait(Driver, Patience)
        {
            Message = $"{what} at {Driver.Url}",
            PollingInterval = TimeSpan.FromMilliseconds(100),
        };
        wait.IgnoreExceptionTypes(
            typeof(StaleElementReferenceException),
            typeof(NoSuchElementException),
            typeof(NoSuchShadowRootException),
            typeof(ElementClickInterceptedException),
            // "Node with given id does not belong to the document": drawn anew between the look and the click.
            typeof(UnknownErrorException)
        );
        try
        {
            return wait.Until(_ => look())!;
        }
        catch (WebDriverTimeoutException late)
        {
            throw new WebDriverTimeoutException(
                $"{late.Message}\nOn the page stood: {TextOnPage()}",
                late.InnerException
            );
        }
    }

    // What stands on the page, and what it is refused for, says more than that something does not stand there.
    private string TextOnPage()
    {
        try
        {
            var text = Driver.FindElement(By.TagName("body")).Text.ReplaceLineEndings(" / ");
            return text.Length > 1_500 ? text[..1_500] : text;
        }
        catch (WebDriverException gone)
        {
            return gone.Message;
        }
    }

    public IWebElement See(string css) =>
        Wait(() => Driver.FindElements(By.CssSelector(css)).FirstOrDefault(e => e.Displayed), css);

    public IWebElement SeeText(string text, string within = "body") =>
        Wait(
            () =>
                Driver.FindElement(By.CssSelector(within)) is var e && e.Text.Contains(text, StringComparison.Ordinal)
                    ? e
                    : null,
            $"\"{text}\""
        );

    public void Click(string css) =>
        Wait(
            () =>
            {
                Press(css.StartsWith("//", StringComparison.Ordinal) ? By.XPath(css) : By.CssSelector(css));
                return "done";
            },
            $"click on {css}"
        );

    public void ClickText(string text, string tag = "button") =>
        Wait(
            () =>
            {
                Press(By.XPath($"//{tag}[contains(normalize-space(.), \"{text}\")]"));
                return "done";
            },
            $"click on \"{text}\""
        );

    // A person scrolls away from what lies over the edge, a callout above all.
    private void Press(By what)
    {
        var element = Driver.FindElement(what);
        try
        {
            element.Click();
        }
        catch (ElementClickInterceptedException)
        {
            Driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center', behavior: 'instant' })", element);
            element.Click();
        }
    }

    public void Type(string css, string text)
    {
        Retype(See(css), text);
    }

    /// <summary>Writes a message as it is kept, with its tokens; the editor's own way is tested by itself.</summary>
    public void WriteMessage(string text)
    {
        See("[role=textbox].sentence-field");
        if (Driver.FindElements(By.TagName("textarea")).Count == 0)
            ClickText("Text as kept");
        Type("textarea", text);
    }

    /// <summary>The control that a label names.</summary>
    public IWebElement Labelled(string label, string within = "body") =>
        Wait(
            () =>
            {
                var found = Driver
                    .FindElement(By.CssSelector(within))
                    .FindElements(By.XPath($".//label[contains(normalize-space(.), \"{label}\")]"))
                    .FirstOrDefault();
                return found?.GetAttribute("for") is { Length: > 0 } id
                    ? Driver.FindElement(By.Id(id))
                    : found?.FindElements(By.CssSelector("input,textarea,select")).FirstOrDefault();
            },
            $"the control \"{label}\""
        );

    public void Fill(string label, string text, string within = "body")
    {
        Retype(Labelled(label, within), text);
    }

    // As a person does: chosen whole and typed over. Clearing by the driver leaves the field in between.
    private static void Retype(IWebElement field, string text) =>
        field.SendKeys(Keys.Control + "a" + Keys.Null + (text.Length > 0 ? text : Keys.Backspace));

    public void Choose(string label, string choice, string within = "body") =>
        Wait(
            () =>
            {
                Labelled(label, within).FindElement(By.XPath($".//option[normalize-space(.)=\"{choice}\"]")).Click();
                return "done";
            },
            $"\"{choice}\" in \"{label}\""
        );

    /// <summary>Waits until a text is gone.</summary>
    public void SeeNot(string text, string within = "body") =>
        Wait(
            () =>
                Driver.FindElement(By.CssSelector(within)).Text.Contains(text, StringComparison.Ordinal)
                    ? null
                    : "gone",
            $"\"{text}\" to be gone"
        );

    /// <summary>The slip on the page now, or null.</summary>
    public IWebElement? FindSlip()
    {
        var host = Driver.FindElements(By.CssSelector("outcry-callouts")).FirstOrDefault();
        return host?.GetShadowRoot().FindElements(By.CssSelector(".slip")).FirstOrDefault();
    }

    public IWebElement SeeSlip() => Wait(FindSlip, "a slip");

    /// <summary>Closes the slip on the page by its mark.</summary>
    public void CloseSlip() => SeeSlip().FindElement(By.CssSelector(".close")).Click();

    /// <summary>Asserts that no slip comes within the time in which one would have.</summary>
    public void SeeNoSlip()
    {
        Thread.Sleep(2500);
        Assert.Null(FindSlip());
    }

    public Chromium SignIn(Stage stage, string email = TestWorld.OwnerEmail)
    {
        Go(stage.Desk + "/");
        Type("input[name=email]", email);
        Type("input[name=password]", TestWorld.Password);
        Click("button[type=submit]");
        See("nav[aria-label=Sections]");
        return this;
    }

    public void Buy(Stage stage, string slug, string first, string last)
    {
        Go($"{stage.Site}/shop/{slug}");
        WaitForSnippet();
        ClickText("Add to basket");
        SeeText("Go to checkout");
        Go($"{stage.Site}/checkout");
        WaitForSnippet();
        Wait(
            () =>
                Driver.FindElement(By.CssSelector("input[name=visitor]")).GetAttribute("value") is { Length: > 0 } v
                    ? v
                    : null,
            "the visitor's id in the form"
        );
        Type("#checkout input[name=first_name]", first);
        Type("#checkout input[name=last_name]", last);
        Type("#checkout input[name=email]", $"{Guid.NewGuid():N}@post.example");
        ClickText("Buy");
        SeeText("Thank you");
    }

    /// <summary>Waits until the snippet has its plan.</summary>
    public void WaitForSnippet() =>
        Wait(
            () =>
                Driver.ExecuteAsyncScript(
                    "const done = arguments[0]; (window.outcry = window.outcry || []).push(['visitor', done]);"
                ) as string,
            "the snippet's plan"
        );

    /// <summary>Waits until what hears forms is there, too: nobody fills one in sooner, but a test does.</summary>
    public void WaitForListening()
    {
        WaitForSnippet();
        Wait(
            () =>
                Driver.ExecuteScript(
                    "return performance.getEntriesByType('resource').find((e) => e.name.includes('/listen'))?.name ?? null"
                ) as string,
            "the file that hears forms"
        );
        Thread.Sleep(500);
    }

    /// <summary>Runs axe-core over the page, shadow roots included, and returns what it finds.</summary>
    public string Axe()
    {
        Driver.ExecuteScript(
            File.ReadAllText(Path.Combine(Stage.Root, "web", "node_modules", "axe-core", "axe.min.js"))
        );
        return (string?)
                Driver.ExecuteAsyncScript(
                    """
                    const done = arguments[0];
                    axe.run(document, { iframes: false, runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] }).then(
                      (r) => done(r.violations.map((v) => v.id + ': ' + v.nodes.map((n) => n.html.slice(0, 160) + ' [' + n.any.concat(n.all).map((c) => c.message).join('; ').slice(0, 200) + ']').join('\n   ')).join('\n')),
                      (e) => done('axe failed: ' + e));
                    """
                )
            ?? "axe did not answer";
    }

    public void AxeFindsNothing()
    {
        var found = Axe();
        // What is being drawn at this very moment is looked at once more when it stands.
        if (found.Length > 0)
        {
            Thread.Sleep(1_000);
            found = Axe();
        }
        Assert.True(found.Length == 0, $"axe at {Driver.Url}:\n{found}");
    }

    /// <summary>Lets no request through that fits a pattern; none for all.</summary>
    public void Block(params string[] patterns)
    {
        Driver.ExecuteCdpCommand("Network.enable", []);
        Driver.ExecuteCdpCommand("Network.setBlockedURLs", new() { ["urls"] = patterns });
    }

    /// <summary>Lets every answer take so long.</summary>
    public void Slow(int latencyMs)
    {
        Driver.ExecuteCdpCommand("Network.enable", []);
        Driver.ExecuteCdpCommand(
            "Network.emulateNetworkConditions",
            new()
            {
                ["offline"] = false,
                ["latency"] = latencyMs,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = -1,
            }
        );
    }

    /// <summary>Errors the browser itself logged, such as blocked scripts.</summary>
    public IReadOnlyList<string> Errors() =>
        [.. Driver.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level == LogLevel.Severe).Select(l => l.Message)];
}
