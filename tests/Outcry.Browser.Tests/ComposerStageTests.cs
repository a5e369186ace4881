using OpenQA.Selenium;
using Outcry.Core.Briefs;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;

namespace Outcry.Browser.Tests;

/// <summary>The composer's stage: whatever a draft asks for, and whatever the site forbids, it can be looked at.</summary>
[Collection("one browser at a time")]
public sealed class ComposerStageTests(Stage stage)
{
    [Fact]
    public async Task A_site_without_the_snippet_or_that_cannot_be_framed_gets_a_sketch_with_the_real_draft_on_it()
    {
        await using var pages = await ForeignPages.ServeAsync(stage, "<p>No snippet here</p>");
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts");
        owner.Click("button[aria-label^='Site:']");
        owner.ClickText("Add a site", "div[@role='menuitem']");
        owner.Fill("Name", "Plain kiln", "[role=dialog]");
        owner.Fill("Address", pages.Origin, "[role=dialog]");
        owner.ClickText("Add site");
        owner.See("button[aria-label='Site: Plain kiln']");
        owner.ClickText("Callouts", "nav//a");
        owner.ClickText("New callout");
        owner.ClickText("Notice", "div[@role='menuitem']");
        owner.SeeText("Your news in a few words");
        owner.SeeText("A sketch, not your page", "[aria-label=Stage]");
        owner.SeeText("The snippet is not on the site yet", "[aria-label=Stage]");
        owner.AxeFindsNothing();
        owner.Driver.SwitchTo().Frame(owner.See("iframe"));
        owner.SeeSlip();
        Assert.Empty(owner.Driver.FindElements(By.XPath("//p[.='No snippet here']")));
        owner.Driver.SwitchTo().DefaultContent();
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public async Task What_no_visitor_would_meet_now_is_shown_all_the_same_and_says_so()
    {
        var callout = await stage.PutLiveAsync(
            "For the third time",
            b =>
                StarterBrief.For(CalloutKind.Notice, Outcry.Core.Evidence.EventKind.Purchase, []) with
                {
                    Who = new WhoFacet(
                        new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"),
                        [Device.Desktop]
                    ),
                    Look = b.Look with { Shape = Shape.Inset, Anchor = "#no-such-thing" },
                }
        );
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        owner.SeeText("Shown here all the same", "[aria-label=Stage]");
        owner.SeeText(
            "It is hidden on desktops. Only for visitors where number of the visit is at least 3",
            "[aria-label=Stage]"
        );
        owner.SeeText("This page has no \"#no-such-thing\", where it would stand", "[aria-label=Stage]");
        owner.ClickText("Phone", "label");
        owner.SeeNot("It is hidden on desktops.", "[aria-label=Stage]");
        owner.SeeText("Only for visitors where number of the visit", "[aria-label=Stage]");
    }
}
