using System.Buffers.Text;
using System.Text;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;
using Outcry.Server.Intake;
using Outcry.Server.Passports;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;

namespace Outcry.Server.Tests;

public sealed class SigningTests(TestDesk desk)
{
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 14, 0);

    private LiveSite Own => desk.Services.GetRequiredService<LiveSites>().GetById(desk.World.Site.Id);

    private LiveSite Other => desk.Services.GetRequiredService<LiveSites>().GetById(desk.OtherSite.Id);

    [Fact]
    public void A_webhook_is_signed_as_the_specifications_own_example()
    {
        var body = Encoding.UTF8.GetBytes("""{"test": 2432232314}""");
        var signature = StandardWebhooks.Sign(
            "whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw",
            "msg_p5jXN8AQM9LWM0D4loKWxJek",
            1614265330,
            body
        );
        Assert.Equal("v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=", signature);
    }

    [Theory]
    [InlineData("99999999999999999999")]
    [InlineData("-5")]
    [InlineData("soon")]
    [InlineData("1e9")]
    public void A_timestamp_that_is_none_is_refused(string timestamp) =>
        Assert.NotNull(StandardWebhooks.Objection(StandardWebhooks.NewSecret(), "msg", timestamp, "v1,x", [], Now));

    [Fact]
    public void Five_minutes_are_near_enough_and_a_second_more_is_not()
    {
        var secret = StandardWebhooks.NewSecret();
        string? At(long seconds) =>
            StandardWebhooks.Objection(
                secret,
                "m",
                $"{seconds}",
                StandardWebhooks.Sign(secret, "m", seconds, []),
                [],
                Now
            );
        Assert.Null(At(Now.ToUnixTimeSeconds() - 300));
        Assert.Null(At(Now.ToUnixTimeSeconds() + 300));
        Assert.NotNull(At(Now.ToUnixTimeSeconds() - 301));
        Assert.NotNull(At(Now.ToUnixTimeSeconds() + 301));
    }

    private static string Write(LiveSite site, VisitorRecord visitor) =>
        Passport.Write(site, visitor, PageAddress.Recorded("pots.test", "/shop"), Now);

    [Fact]
    public void A_passport_brings_back_what_was_written()
    {
        var callout = Guid.NewGuid();
        var visitor = VisitorRecord
            .New("v", Now)
            .Arrive(Now)
            .Started(callout, Now, true)
            .Ended(Now)
            .Closed(callout, Now, Duration.FromHours(24), false)
            .Clicked(callout, Now);
        visitor = visitor
            .Arrive(Now + Duration.FromHours(1))
            .CameIn(new WayIn("/shop", "news.example", new Dictionary<string, string> { ["source"] = "letter" }))
            .Started(callout, Now + Duration.FromHours(1), true);
        var read = Passport.TryRead(Own, Write(Own, visitor))!;
        Assert.Equivalent(visitor, read, strict: true);
        Assert.Equal([Now, Now + Duration.FromHours(1)], read.Exposures[callout].RecentStarts);
        Assert.Equal((2, Now), (read.PagesEver, read.LastVisitAt));
    }

    [Fact]
    public void A_passport_holds_the_latest_exposures_and_stays_small()
    {
        var visitor = Enumerable
            .Range(0, 500)
            .Aggregate(
                VisitorRecord.New("v", Now).Arrive(Now),
                (v, i) => v.Started(Guid.NewGuid(), Now + Duration.FromSeconds(i), true)
            );
        var passport = Write(Own, visitor);
        Assert.InRange(passport.Length, 1, 8_000);
        Assert.Equal(
            Now + Duration.FromSeconds(499),
            Passport.TryRead(Own, passport)!.Exposures.Values.Max(x => x.LastStartAt)
        );
    }

    [Fact]
    public void What_one_site_signed_another_does_not_believe()
    {
        Assert.Null(Passport.TryRead(Other, Write(Own, VisitorRecord.New("v", Now))));
        Assert.Null(
            PrivateToken.TryRead(
                Other,
                PrivateToken.Make(Own, PrivateToken.Member, null, Now + Duration.FromDays(1)),
                Now
            )
        );
    }

    [Fact]
    public void A_passport_is_no_private_link_and_a_private_link_no_passport()
    {
        Assert.Null(PrivateToken.TryRead(Own, Write(Own, VisitorRecord.New("v", Now)), Now));
        Assert.Null(
            Passport.TryRead(Own, PrivateToken.Make(Own, PrivateToken.Member, null, Now + Duration.FromDays(1)))
        );
    }

    [Theory]
    [InlineData("passports")]
    [InlineData("links")]
    public async Task What_the_key_before_signed_is_believed_until_the_next_change(string use)
    {
        var owner = await desk.StrangerAsync();
        bool IsBelieved(string passport, string link) =>
            use == "passports"
                ? Passport.TryRead(Other, passport) is not null
                : PrivateToken.TryRead(Other, link, Now) is not null;
        var (passport, link) = (
            Write(Other, VisitorRecord.New("v", Now)),
            PrivateToken.Make(Other, PrivateToken.Member, null, Now + Duration.FromDays(1))
        );
        await ChangeKeyAsync(owner, use);
        Assert.True(IsBelieved(passport, link));
        // What is signed now is signed with the new key.
        var (later, laterLink) = (
            Write(Other, VisitorRecord.New("w", Now)),
            PrivateToken.Make(Other, PrivateToken.Member, null, Now + Duration.FromDays(1))
        );
        await ChangeKeyAsync(owner, use);
        Assert.False(IsBelieved(passport, link));
        Assert.True(IsBelieved(later, laterLink));
        var editor = await desk.EditorAsync();
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await editor.PostAsync($"/api/sites/{desk.World.Site.Id}/keys", new { use })).Status
        );
    }

    private async Task ChangeKeyAsync(DeskClient owner, string use)
    {
        SiteKeys Keys() => use == "passports" ? Other.PassportKeys : Other.LinkKeys;
        var before = Keys().Current;
        var (status, _) = await owner.PostAsync($"/api/sites/{desk.OtherSite.Id}/keys", new { use });
        Assert.Equal(HttpStatusCode.NoContent, status);
        await Eventually.GetAsync(() => Task.FromResult(Keys()), k => !k.Current.AsSpan().SequenceEqual(before));
    }

    [Fact]
    public void A_passport_of_another_version_is_nobodys()
    {
        var passport = Write(Own, VisitorRecord.New("v", Now));
        var bytes = Base64Url.DecodeFromChars(passport);
        bytes[0]++;
        Assert.Null(Passport.TryRead(Own, Base64Url.EncodeToString(bytes)));
    }

    [Fact]
    public void A_private_link_ends_when_it_says()
    {
        var token = PrivateToken.Make(Own, PrivateToken.Stage, Guid.NewGuid(), Now + Duration.FromHours(4));
        Assert.NotNull(PrivateToken.TryRead(Own, token, Now + Duration.FromHours(4) - Duration.FromSeconds(1)));
        Assert.Null(PrivateToken.TryRead(Own, token, Now + Duration.FromHours(4)));
    }

    [Theory]
    [InlineData("")]
    [InlineData(".")]
    [InlineData("a.b.c")]
    [InlineData("!!.??")]
    public void Nonsense_is_nobodys_passport(string text) => Assert.Null(Passport.TryRead(Own, text));

    [Theory]
    [InlineData("s@post.example", "s•••••@•••••.example")]
    [InlineData("a@b", "a•••••@•••••")]
    [InlineData("nonsense", "")]
    [InlineData("@x.example", "")]
    [InlineData(null, "")]
    public void An_address_is_masked(string? address, string masked) => Assert.Equal(masked, Mask.Email(address));
}
