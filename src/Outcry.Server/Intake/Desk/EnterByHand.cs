using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>Something entered by hand.</summary>
/// <param name="Who">Full name as permitted, for an endorsement; the reviewer's name for a review.</param>
/// <param name="Role">Role of who speaks.</param>
/// <param name="Words">What they say.</param>
/// <param name="Picture">Address of a picture.</param>
/// <param name="HasPermission">Whether the person allowed it; endorsements are not kept without.</param>
/// <param name="Total">A profile's total.</param>
/// <param name="Of">What it counts.</param>
/// <param name="Stars">Stars of a review.</param>
/// <param name="Product">What it is about.</param>
/// <param name="AsOf">When it was said or counted; null for now.</param>
internal sealed record EntryRequest(
    string Who = "",
    string Role = "",
    string Words = "",
    string Picture = "",
    bool HasPermission = false,
    string Total = "",
    string Of = "",
    string Stars = "",
    string Product = "",
    Instant? AsOf = null
);

/// <summary>Enters an endorsement, a total or a review by hand; who entered it stays with it.</summary>
internal static class EnterByHand
{
    public static async Task<Results<Ok<TestSentView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid sourceId,
        EntryRequest request,
        OutcryDb db,
        EventRecorder recorder,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await ChangeSource.FindAsync(db, siteId, sourceId, stop) is not { Kind: SourceKind.ByHand } row)
            return Problems.NotFound("source for entries by hand");
        if (Objection(row.EventKind, request, clock.GetCurrentInstant()) is { } objection)
            return objection;
        var recorded = await recorder.RecordAsync(
            ToArrival(row.EventKind, request, member, clock.GetCurrentInstant()),
            row,
            isOwn: false,
            clock.GetCurrentInstant(),
            stop
        );
        if (recorded.EventId is { } made)
        {
            traces.Add("entered by hand into", row.Name, siteId, link: $"event/{made}");
            await db.SaveChangesAsync(stop);
        }
        return recorded.EventId is { } id
            ? TypedResults.Ok(new TestSentView(id))
            : Problems.Of(StatusCodes.Status409Conflict, "left-out", "It was left out", recorded.Because ?? "");
    }

    private static ProblemHttpResult? Objection(EventKind kind, EntryRequest entry, Instant now)
    {
        if (entry.AsOf > now)
            return Problems.BadField("asOf", "The date lies in the future.");
        if (entry.Picture.Length > 0 && SafeLink.TryPassPicture(entry.Picture) is null)
            return Problems.BadField("picture", "The picture must be an http or https address.");
        return kind switch
        {
            EventKind.Endorsement when entry.Words.Trim().Length == 0 => Problems.BadField(
                "words",
                "Write what they say."
            ),
            EventKind.Endorsement when entry.Who.Trim().Length == 0 => Problems.BadField("who", "Write who says it."),
            EventKind.Endorsement when !entry.HasPermission => Problems.BadField(
                "hasPermission",
                "Note that the person allowed it: a full name is shown."
            ),
            EventKind.Total when ValueReading.Count(entry.Total) is null => Problems.BadField(
                "total",
                "Write a whole number."
            ),
            EventKind.Total when entry.Of.Trim().Length == 0 => Problems.BadField(
                "of",
                "Say what is counted, such as followers."
            ),
            EventKind.Review when ValueReading.Amount(entry.Stars) is not (>= 0 and <= 5) => Problems.BadField(
                "stars",
                "Write a number of stars from 0 to 5."
            ),
            _ => null,
        };
    }

    private static IncomingEvent ToArrival(EventKind kind, EntryRequest entry, CurrentMember member, Instant now)
    {
        var fields = new Dictionary<string, string>();
        void Set(string field, string value)
        {
            if (value.Trim().Length > 0)
                fields[field] = value.Trim();
        }
        Set(EventFields.Words, entry.Words);
        Set("entered_by", member.Name);
        if (kind == EventKind.Endorsement)
        {
            Set(EventFields.Who, entry.Who);
            Set(EventFields.Role, entry.Role);
            fields["permission"] = string.Create(
                CultureInfo.InvariantCulture,
                $"noted {now.InUtc().Date:uuuu-MM-dd} by {member.Name}"
            );
        }
        if (kind == EventKind.Total)
        {
            fields[EventFields.Total] = $"{ValueReading.Count(entry.Total)}";
            Set(EventFields.Of, entry.Of);
        }
        if (kind == EventKind.Review)
            Set(EventFields.Stars, entry.Stars);
        var product = kind == EventKind.Endorsement ? entry.Who : entry.Product;
        return new IncomingEvent
        {
            ExternalId = $"hand:{Guid.CreateVersion7():N}",
            Kind = kind,
            At = entry.AsOf ?? now,
            FirstName = kind == EventKind.Review ? entry.Who : null,
            Product =
                product.Trim().Length == 0
                    ? null
                    : new EventProduct(product.Trim(), null, SafeLink.TryPassPicture(entry.Picture)),
            Fields = fields,
        };
    }
}
