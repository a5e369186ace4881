using Microsoft.EntityFrameworkCore;
using OpenQA.Selenium;
using OpenQA.Selenium.VirtualAuth;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Store.Rows;
using Outcry.Tests.Shared;
using Outcry.Tests.World;

namespace Outcry.Browser.Tests;

/// <summary>The team as people meet it: invited, locked, let back in; a draft looked at by a second person.</summary>
[Collection("one browser at a time")]
public sealed class TeamWalkTests(Stage stage)
{
    private const string Password = "four quiet herons at dusk";
    private const string Account = "main";

    [Fact]
    public void Who_is_invited_joins_locks_the_account_loses_the_telephone_and_comes_back_in()
    {
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/team");
        owner.SeeText("Who may do what");
        owner.ClickText("Invite");
        owner.Fill("E-mail", "wilma@emberwick.example", "[aria-label='Invite somebody']");
        owner.Click("//label[contains(., 'Viewer')]");
        owner.Click("[aria-label='Invite somebody'] button[type=submit]");
        var link = owner
            .Wait(
                () =>
                    owner
                        .Driver.FindElements(By.CssSelector("[aria-label='Invite somebody'] code"))
                        .FirstOrDefault(c => c.Text.Contains("/join#", StringComparison.Ordinal)),
                "the link"
            )
            .Text;
        owner.AxeFindsNothing();

        using var wilma = new Chromium();
        wilma.Go(link);
        wilma.SeeText("Join Emberwick Pottery");
        wilma.Fill("Your name", "Wilma Lane");
        wilma.Fill("Password", "password1234");
        wilma.Click("button[type=submit]");
        wilma.SeeText("stolen ones");
        wilma.AxeFindsNothing();
        wilma.Fill("Password", Password);
        wilma.Click("button[type=submit]");
        wilma.See("nav[aria-label=Sections]");

        wilma.Go($"{stage.Desk}/account");
        var second = "//section[h2='Second factor']";
        wilma.SeeText("Second factor");
        wilma.Driver.FindElement(By.XPath($"{second}//input[@name='password']")).SendKeys(Password);
        wilma.ClickText("Set up an authenticator");
        wilma.SeeText("Take this picture");
        var key = wilma.Driver.FindElement(By.XPath($"{second}//code")).Text.Replace(" ", "", StringComparison.Ordinal);
        wilma.AxeFindsNothing();
        wilma.Fill("Code", Authenticator.Code(key), Account);
        wilma.ClickText("Turn it on");
        wilma.SeeText("Keep these codes");
        var recovery = wilma.Driver.FindElement(By.XPath($"{second}//ul/li[1]")).Text;
        wilma.ClickText("I have kept them");
        wilma.SeeText("10 recovery codes are left");

        SignOut(wilma);
        wilma.Type("input[name=email]", "wilma@emberwick.example");
        wilma.Type("input[name=password]", Password);
        wilma.Click("button[type=submit]");
        wilma.SeeText("One more step");
        wilma.Type("input[name=code]", "000000");
        wilma.Click("button[type=submit]");
        wilma.SeeText("does not fit");
        wilma.AxeFindsNothing();
        // The telephone is gone; the paper in the drawer is not.
        wilma.Type("input[name=code]", recovery);
        wilma.Click("button[type=submit]");
        wilma.See("nav[aria-label=Sections]");

        // A passkey from now on: this device opens the door itself.
        var device = new VirtualAuthenticatorOptions()
            .SetProtocol(VirtualAuthenticatorOptions.Protocol.CTAP2)
            .SetTransport(VirtualAuthenticatorOptions.Transport.INTERNAL)
            .SetHasResidentKey(true)
            .SetHasUserVerification(true)
            .SetIsUserVerified(true);
        wilma.Driver.AddVirtualAuthenticator(device);
        wilma.Go($"{stage.Desk}/account");
        wilma.SeeText("9 recovery codes are left");
        wilma.ClickText("Add a passkey");
        wilma.Fill("What you call this device", "Studio laptop");
        wilma.Driver.FindElement(By.XPath("//section[h2='Passkeys']//input[@name='password']")).SendKeys(Password);
        wilma.ClickText("Make the passkey");
        wilma.See("[aria-label='Take away the passkey Studio laptop']");
        SignOut(wilma);
        wilma.ClickText("Sign in with a passkey");
        wilma.See("nav[aria-label=Sections]");

        // What she may not is not offered, and what she did stands written.
        wilma.Go($"{stage.Desk}/team");
        wilma.SeeText("set up a second factor");
        Assert.Empty(wilma.Driver.FindElements(By.XPath("//button[.='Invite']")));
        wilma.AxeFindsNothing();

        owner.Go($"{stage.Desk}/team");
        owner.Click("[aria-label='Remove Wilma Lane']");
        owner.ClickText("Remove Wilma Lane");
        owner.SeeText("no longer a member");
        wilma.Go($"{stage.Desk}/team");
        wilma.See("input[name=email]");
        Assert.Empty(owner.Errors());
    }

    private static void SignOut(Chromium browser)
    {
        browser.Click("[aria-label$='signed in']");
        browser.Click("//*[@role='menuitem'][.='Sign out']");
        browser.See("input[name=email]");
    }

    [Fact]
    public async Task An_editors_change_goes_through_review_with_a_note_and_a_difference_in_words()
    {
        var notice = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        var callout = await stage.PutLiveAsync(
            "Looked at twice",
            _ => notice with { Say = notice.Say with { Message = "The kiln opens at nine" } }
        );
        using var editor = new Chromium();
        editor.SignIn(stage, TestWorld.EditorEmail).Go($"{stage.Desk}/callouts/{callout}");
        editor.Click("[data-phrase='say.message']");
        editor.WriteMessage("The kiln opens at ten");
        editor.SeeText("Draft saved");
        editor.ClickText("Ask for a review");
        editor.Type("[aria-label='Ask for a review'] textarea", "An hour later from now on.");
        editor.AxeFindsNothing();
        editor.Click("[aria-label='Ask for a review'] button[type=submit]");
        editor.SeeText("In review");

        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/team?view=review");
        const string card = "article[aria-label='Looked at twice']";
        owner.SeeText("An hour later from now on.", card);
        owner.Wait(
            () =>
                owner.Driver.FindElements(By.CssSelector($"{card} del")).Any(d => d.Text.Trim() == "nine")
                && owner.Driver.FindElements(By.CssSelector($"{card} ins")).Any(d => d.Text.Trim() == "ten")
                    ? "both"
                    : null,
            "nine struck out, ten put in"
        );
        owner.AxeFindsNothing();
        owner.Click($"//article[@aria-label='Looked at twice']//button[.='Add a note']");
        owner.Type($"{card} textarea", "Good.");
        owner.Click($"//article[@aria-label='Looked at twice']//button[.='Add the note']");
        owner.SeeText("Marta Quill: Good.", card);
        owner.Click($"//article[@aria-label='Looked at twice']//button[.='Approve']");
        owner.SeeText("Approved by Marta Quill", card);
        editor.SeeText("Approved by Marta Quill");
        owner.Click($"//article[@aria-label='Looked at twice']//button[.='Publish']");
        owner.SeeText("Looked at twice is live.");

        await using var db = stage.Database.Open();
        Assert.Equal(
            ReviewState.Published,
            await db.Reviews.Where(r => r.DefinitionId == callout).Select(r => r.State).SingleAsync()
        );
        Assert.True(
            await db.Traces.AnyAsync(t =>
                t.Act == "approved" && t.Subject == "Looked at twice" && t.By == "Marta Quill"
            )
        );
        Assert.Empty(owner.Errors());
    }
}
