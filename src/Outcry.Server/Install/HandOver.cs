using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Server.Mail;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;

namespace Outcry.Server.Install;

/// <param name="To">The developer's address.</param>
/// <param name="Note">Something to add in one's own words.</param>
internal sealed record HandOverRequest(string To, string Note = "");

/// <summary>Hands the line to a developer, who needs no account: a mail, and a link under which one sees whether it works.</summary>
internal static class HandOver
{
    private static readonly Duration LinkLife = Duration.FromDays(30);
    private const int LongestNote = 1_000;

    public static async Task<Results<Ok<LinkView>, ProblemHttpResult>> SendAsync(
        Guid siteId,
        HandOverRequest request,
        LiveSites sites,
        Postman postman,
        CurrentMember member,
        HttpRequest http,
        IClock clock,
        CancellationToken stop
    )
    {
        var to = request.To.Trim();
        if (!MailFeature.IsAddress(to))
            return Problems.BadField("to", "This is no e-mail address.");
        if (request.Note.Length > LongestNote)
            return Problems.BadField("note", $"At most {LongestNote} characters.");
        if (!postman.IsSet)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "no-mail",
                "Mail is not set up",
                "This desk has no mail server. Copy the install link instead and send it yourself."
            );
        var site = sites.GetById(siteId);
        var link = Link(site, http, clock.GetCurrentInstant());
        var letter = new Letter(
            to,
            $"One line for {site.Name}",
            Text(site, member.Name, request.Note.Trim(), link, http)
        );
        return await postman.TrySendAsync(letter, stop)
            ? TypedResults.Ok(link)
            : Problems.Of(
                StatusCodes.Status502BadGateway,
                "mail-refused",
                "The mail was not taken",
                "The mail server did not accept it. Check the address, or copy the install link and send it yourself."
            );
    }

    public static Ok<LinkView> MakeLink(Guid siteId, LiveSites sites, HttpRequest http, IClock clock) =>
        TypedResults.Ok(Link(sites.GetById(siteId), http, clock.GetCurrentInstant()));

    /// <summary>What the link shows: the line, where it goes, whether it is heard; nothing else of the site.</summary>
    public static async Task<Results<Ok<InstallView>, ProblemHttpResult>> ShowAsync(
        string token,
        LiveSites sites,
        Store.OutcryDb db,
        HttpRequest http,
        IClock clock,
        CancellationToken stop
    )
    {
        var now = clock.GetCurrentInstant();
        var key = token.Split('~', 2);
        var site = key.Length == 2 ? sites.FindByKey(key[0]) : null;
        return site is not null && PrivateToken.TryReadInstall(site, key[1], now)
            ? TypedResults.Ok(await InstallFeature.ReadAsync(site, db, http, now, stop))
            : Problems.Of(
                StatusCodes.Status404NotFound,
                "link-gone",
                "This link no longer holds",
                "Install links hold for 30 days. Ask whoever sent it for a new one."
            );
    }

    private static LinkView Link(LiveSite site, HttpRequest http, Instant now)
    {
        var until = now + LinkLife;
        var token = PrivateToken.Make(site, PrivateToken.Install, null, until);
        // Behind "#", so that it stays out of logs and referrers.
        return new LinkView($"{http.Scheme}://{http.Host}/handed-over#{site.Key}~{token}", until);
    }

    private static string Text(LiveSite site, string from, string note, LinkView link, HttpRequest http) =>
        $"""
            Hello,

            {from} asks you to put one line into every page of {site.HomeAddress}:

            <script async src="{http.Scheme}://{http.Host}/o/{site.Key}.js"></script>

            Where: in the head, or at the start or end of the body; all give the same result. It loads beside the page, blocks
            and moves nothing, and sets no cookies. If the site has a Content-Security-Policy, allow {http.Scheme}://{http.Host}
            in script-src and connect-src.

            Does it work? This page says so by itself, without an account, until {link.GoodUntil.InUtc().Date:d MMMM uuuu}:
            {link.Url}
            {(note.Length > 0 ? $"\n{from} adds:\n{note}\n" : "")}
            """;
}
