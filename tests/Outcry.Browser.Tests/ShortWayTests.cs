using Outcry.Standins.Seed;

namespace Outcry.Browser.Tests;

/// <summary>How many clicks and fields the commonest work takes, so that it does not grow unseen.</summary>
[Collection("one browser at a time")]
public sealed class ShortWayTests(Stage stage)
{
    [Fact]
    public void From_the_door_to_a_moment_live_from_a_form_takes_eleven_acts()
    {
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/quote").WaitForSnippet();
        using var owner = new Chromium();
        var acts = 0;
        owner.Go(stage.Desk + "/");
        Fill("E-mail", Definitions.OwnerEmail);
        Fill("Password", Definitions.Password);
        Click("Sign in");
        // A person sees the desk come up before they click on.
        owner.Wait(() => owner.Driver.Url.Contains("/s/", StringComparison.Ordinal) ? "in" : null, "the site's desk");
        Click("Ledger", "nav//a");
        Click("Add a source");
        Click("site form", "label");
        Click("on /quote", "label");
        Click("Add source");
        Click("Make a callout of it");
        Click("Publish");
        Click("Publish now");
        owner.SeeText("Live as revision 1");
        Assert.Equal(11, acts);

        void Fill(string label, string text)
        {
            owner.Fill(label, text);
            acts++;
        }

        void Click(string text, string tag = "button")
        {
            owner.ClickText(text, tag);
            acts++;
        }
    }
}
