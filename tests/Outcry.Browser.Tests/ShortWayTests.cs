using OpenQA.Selenium;
using Outcry.Core.Targeting;
using Outcry.Tests.World;

namespace Outcry.Browser.Tests;

/// <summary>How many clicks and fields the commonest work takes, so that it does not grow unseen.</summary>
[Collection("one browser at a time")]
public sealed class ShortWayTests(Stage stage)
{
    /// <summary>One who counts what they do.</summary>
    private sealed class Counting(Chromium browser)
    {
        public int Acts { get; private set; }

        public void Fill(string label, string text) => Count(() => browser.Fill(label, text));

        public void Click(string text, string tag = "button") => Count(() => browser.ClickText(text, tag));

        public void Press(string css) => Count(() => browser.Click(css));

        public void Type(string css, string text) => Count(() => browser.See(css).SendKeys(text));

        public int Start() => Acts = 0;

        private void Count(Action act)
        {
            act();
            Acts++;
        }
    }

    [Fact]
    public void From_the_door_to_a_moment_live_from_a_form_takes_eleven_acts()
    {
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/quote").WaitForSnippet();
        using var owner = new Chromium();
        var way = new Counting(owner);
        owner.Go(stage.Desk + "/");
        way.Fill("E-mail", TestWorld.OwnerEmail);
        way.Fill("Password", TestWorld.Password);
        way.Click("Sign in");
        // A person sees the desk come up before they click on.
        owner.Wait(() => owner.Driver.Url.Contains("/s/", StringComparison.Ordinal) ? "in" : null, "the site's desk");
        way.Click("Ledger", "nav//a");
        way.Click("Add a source");
        way.Click("site form", "label");
        way.Click("on /quote", "label");
        way.Click("Add source");
        way.Click("Make a callout of it");
        way.Click("Publish");
        way.Click("Publish now");
        owner.SeeText("Live as revision 1");
        Assert.Equal(11, way.Acts);
    }

    [Fact]
    public async Task A_copy_for_other_pages_takes_nine_acts_a_pause_three_and_so_does_an_end()
    {
        await stage.PutLiveAsync(
            "Goes far",
            b => b with { Where = new WhereFacet(["/studio", "/journal", "/journal/*"], [], [], Replaces: false) }
        );
        using var owner = new Chromium();
        owner.SignIn(stage);
        var way = new Counting(owner);
        Act("Duplicate");
        owner.SeeText("Draft");
        way.Press("[data-phrase='where']");
        way.Click("Remove all");
        way.Type("input[aria-label^='Type a pattern']", "/workshops");
        way.Type("input[aria-label^='Type a pattern']", Keys.Enter);
        owner.SeeText("/workshops", "[data-phrase='where']");
        owner.SeeText("Draft saved");
        way.Click("Publish");
        way.Click("Publish now");
        owner.SeeText("Live as revision 1");
        Assert.Equal(9, way.Acts);

        way.Start();
        Act("Pause");
        owner.SeeText("Paused “Goes far”");
        Assert.Equal(3, way.Acts);

        owner.ClickText("Undo");
        owner.SeeNot("Paused", "table");
        way.Start();
        Act("Take off air and archive");
        owner.SeeText("Taken off air and archived “Goes far”");
        Assert.Equal(3, way.Acts);
        Assert.Empty(owner.Errors());

        void Act(string act)
        {
            way.Click("Callouts", "nav//a");
            way.Press("[aria-label='Acts on Goes far']");
            way.Click(act, "div[@role='menuitem']");
        }
    }
}
