using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>Begin listening to something.</summary>
internal sealed record AddSourceRequest(string Name, SourceKind Kind, EventKind EventKind, SourceSettings Settings);

internal static class AddSource
{
    /// <summary>Sources of one site at most, where the house sets nothing else.</summary>
    private const int Most = 60;

    public static async Task<Results<Created<SourceView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        AddSourceRequest request,
        OutcryDb db,
        SiteNews news,
        LiveSites sites,
        FormSends sends,
        CurrentMember member,
        TraceBook traces,
        IConfiguration configuration,
        HttpRequest http,
        IClock clock,
        CancellationToken stop
    )
    {
        var set = request.Settings;
        if (Fits(request.Kind, request.EventKind) is { } unfit)
            return Problems.BadField("eventKind", unfit);
        if (SourceCheck.Objection(request.Name, request.Kind, request.EventKind, set) is { } objection)
            return objection;
        var most = configuration.GetValue("Limits:SourcesPerSite", Most);
        if (await db.Sources.CountAsync(s => s.SiteId == siteId && s.DeletedAt == null, stop) >= most)
            return Problems.BadField("name", $"A site has at most {most} sources. Delete one that nothing draws on.");
        var row = new SourceRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Name = request.Name.Trim(),
            Kind = request.Kind,
            EventKind = request.EventKind,
            Secret = request.Kind == SourceKind.SignedWebhook ? StandardWebhooks.NewSecret() : null,
            Form = set.Form,
            Map = set.Map is { } map ? map with { Kind = request.EventKind } : null,
            Poll = set.Poll,
            Script = set.Script,
            Rules = set.Rules ?? SourceRules.Open,
            Display = set.Display ?? DisplayPolicy.For(request.EventKind),
            CreatedAt = clock.GetCurrentInstant(),
        };
        db.Sources.Add(row);
        traces.Add("added the source", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        await sends.TakeInAsync(row, sites.GetById(siteId), row.CreatedAt, stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Created(
            $"/api/sites/{siteId}/sources/{row.Id}",
            ListSources.View(row, SourceHealth.None, [], member, http)
        );
    }

    /// <summary>Why a sort of source cannot bring a kind of event; null when it can.</summary>
    public static string? Fits(SourceKind kind, EventKind events) =>
        kind switch
        {
            SourceKind.Launcher => "It is made with the first message that a launcher takes.",
            SourceKind.Prompt => "It is made with the first answer to a prompt.",
            SourceKind.Shop => "A shop's add-on makes its sources itself: give it the site's id and key.",
            SourceKind.ReviewList => events == EventKind.Review ? null : "A review list brings reviews.",
            SourceKind.ProfileTotals => events == EventKind.Total ? null : "Profile totals bring totals.",
            SourceKind.Feed => events == EventKind.Post ? null : "A feed brings posts.",
            SourceKind.PageScript => events is EventKind.Own or EventKind.BasketAddition
                ? null
                : "A page script brings own events or basket additions. Purchases come signed, from the shop's server.",
            SourceKind.ByHand => events is EventKind.Endorsement or EventKind.Total or EventKind.Review
                ? null
                : "Endorsements, totals and reviews are entered by hand; everything else has to have happened.",
            SourceKind.SiteForm => events
                is EventKind.SignUp
                    or EventKind.Enquiry
                    or EventKind.Purchase
                    or EventKind.Booking
                    or EventKind.Own
                    or EventKind.StockLevel
                ? null
                : "A form brings sign-ups, enquiries, purchases, bookings, stock levels or own events.",
            _ => events is EventKind.Total or EventKind.Post or EventKind.Endorsement
                ? "This kind of event does not come this way."
                : null,
        };
}
