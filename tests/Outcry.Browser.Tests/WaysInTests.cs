using OpenQA.Selenium;

namespace Outcry.Browser.Tests;

/// <summary>Ways in as a marketer begins them: a shop by its add-on, a form that was counted before; and a site that goes.</summary>
[Collection("one browser at a time")]
public sealed class WaysInTests(Stage stage)
{
    private const string Adding = "[aria-label='Add a source']";
    private const string Source = "[aria-label='The chosen source']";

    [Fact]
    public void A_shop_is_connected_by_three_lines_pasted_into_its_add_on()
    {
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/ledger?panel=add");
        owner.Click("//label[contains(., 'by its add-on')]");
        owner.ClickText("Make a key");
        owner.SeeText("has not said hello yet", Adding);
        owner.ClickText("Show the key");
        owner.AxeFindsNothing();
        var lines = owner
            .Driver.FindElements(By.CssSelector(Adding + " dd > :first-child"))
            .Select(d => d.Text.Trim())
            .ToList();
        try
        {
            owner.Go($"{stage.Site}/back-office/add-on");
            owner.Type("input[name=desk]", lines[0]);
            owner.Type("input[name=site]", lines[1]);
            owner.Type("input[name=key]", lines[2][..^2]);
            owner.ClickText("Connect");
            owner.SeeText("That did not work.");
            owner.Type("input[name=key]", lines[2]);
            owner.ClickText("Connect");
            owner.SeeText("orders of the past");
            owner.Go($"{stage.Desk}/ledger");
            owner.ClickText("Orders of Emberwick");
            owner.SeeText("connected", Source);
            owner.SeeText("Shop, by its add-on, bringing purchases", Source);
            // Whoever buys now is told of by the add-on.
            using var buyer = new Chromium();
            buyer.Buy(stage, "iron-bowl", "Ottoline", "Vane");
            owner.Go($"{stage.Desk}/ledger?text=Ottoline");
            owner.SeeText("Ottoline V.");
            owner.SeeText("Orders of Emberwick Pottery shop", "table, main");
            owner.Go($"{stage.Desk}/ledger");
            owner.ClickText("Orders of Emberwick");
            owner.ClickText("Disconnect the shop");
            owner.ClickText("Yes, disconnect");
            owner.SeeText("Make a key", Source);
        }
        finally
        {
            owner.Go($"{stage.Site}/back-office/add-on");
            if (owner.Driver.FindElements(By.XPath("//button[.='Disconnect']")).Count > 0)
                owner.ClickText("Disconnect");
        }
    }

    [Fact]
    public void A_form_counts_from_before_anybody_listened_and_what_is_not_taken_is_warned_of()
    {
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/studio/voucher").WaitForListening();
        visitor.Type("#view input[name=your_name]", "Noor Haddad");
        visitor.Type("#view input[name=email]", "noor@post.example");
        visitor.Type("#view input[name=amount]", "20");
        visitor.Click("#view form button");
        using var owner = new Chromium();
        owner.SignIn(stage);
        owner.Wait(
            () =>
            {
                owner.Go($"{stage.Desk}/ledger?panel=add");
                owner.Click("//label[contains(., 'site form')]");
                owner.SeeText("Look for forms", Adding);
                // On a busy machine the list takes a moment; only then is it asked for anew.
                for (var looks = 0; looks < 6; looks++)
                {
                    Thread.Sleep(500);
                    if (
                        owner
                            .Driver.FindElements(
                                By.XPath("//aside[@aria-label='Add a source']//label[contains(., 'sent once')]")
                            )
                            .FirstOrDefault() is
                        { } found
                    )
                        return found;
                }
                return null;
            },
            "the form that was sent once"
        );
        owner.Click("//aside[@aria-label='Add a source']//label[contains(., 'sent once')]");
        owner.SeeText("That counts from the start", Adding);
        owner.Choose("E-mail means", "not taken", Adding);
        owner.SeeText("Looks like e-mail address, and is not taken.", Adding);
        owner.ClickText("Take it");
        owner.SeeNot("and is not taken", Adding);
        owner.Click("//aside[@aria-label='Add a source']//select[contains(@aria-label, 'Counts on')]/option[2]");
        owner.Click("//aside[@aria-label='Add a source']//button[starts-with(@aria-label, 'Remove /')]");
        owner.AxeFindsNothing();
        owner.Fill("Name", "Voucher form", Adding);
        owner.ClickText("Add source");
        owner.SeeText("1 in 24 hours", Source);
        // Other tests send the same form, and mean otherwise.
        owner.ClickText("Delete");
        owner.ClickText("Yes, delete");
        owner.Wait(
            () => owner.Driver.FindElements(By.CssSelector(Source)).Count == 0 ? "gone" : null,
            "the source's panel to be gone"
        );
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public void A_site_is_removed_by_its_typed_name_and_taken_back()
    {
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts");
        Choose("Add a site");
        owner.Fill("Name", "Passing kiln", "[role=dialog]");
        owner.Fill("Address", "https://passing.example/", "[role=dialog]");
        owner.ClickText("Add site");
        owner.See("button[aria-label='Site: Passing kiln']");
        Choose("Site settings");
        owner.ClickText("Remove this site");
        owner.Fill("Type its name", "Passing kiln", "[role=dialog]");
        owner.AxeFindsNothing();
        owner.ClickText("Remove Passing kiln");
        owner.See("button[aria-label='Site: Emberwick Pottery']");
        Choose("Add a site");
        owner.SeeText("gone for good on", "[role=dialog]");
        owner.ClickText("Restore site");
        owner.See("button[aria-label='Site: Passing kiln']");
        Choose("Site settings");
        owner.ClickText("Remove this site");
        owner.Fill("Type its name", "Passing kiln", "[role=dialog]");
        owner.ClickText("Remove Passing kiln");
        owner.See("button[aria-label='Site: Emberwick Pottery']");

        void Choose(string item)
        {
            owner.Click("button[aria-label^='Site:']");
            owner.ClickText(item, "div[@role='menuitem']");
        }
    }
}
