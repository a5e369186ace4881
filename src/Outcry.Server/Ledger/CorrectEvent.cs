using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Ledger;

/// <summary>Fields as they should read, by name; those not named stay.</summary>
/// <param name="Fields">"first name", "last initial", "city", "region", "country", "product", or one of the event's own.</param>
internal sealed record CorrectionRequest(IReadOnlyDictionary<string, string> Fields);

/// <summary>Corrects what visitors read of an event. What it was is kept, with who changed it and when.</summary>
internal static class CorrectEvent
{
    private const string FirstName = "first name";
    private const string LastInitial = "last initial";

    public static async Task<Results<NoContent, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid eventId,
        CorrectionRequest request,
        OutcryDb db,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var row = await db.Events.FirstOrDefaultAsync(
            e => e.Id == eventId && e.SiteId == siteId && e.State != EventState.Deleted,
            stop
        );
        if (row is null)
            return Problems.NotFound("event");
        var now = clock.GetCurrentInstant();
        var changed = false;
        foreach (var (field, typed) in request.Fields)
        {
            var value = typed.Trim();
            if (Objection(row, field, value) is { } objection)
                return objection;
            var was = Read(row, field);
            if (was == value)
                continue;
            Write(row, field, value);
            changed = true;
            db.Corrections.Add(
                new CorrectionRow
                {
                    WorkspaceId = row.WorkspaceId,
                    EventId = row.Id,
                    Field = field,
                    Was = was,
                    Is = value,
                    By = member.Name,
                    At = now,
                }
            );
        }
        if (!changed)
            return TypedResults.NoContent();
        (row.CorrectedBy, row.CorrectedAt) = (member.Name, now);
        // The fields alone: what they hold may be about a person, and a trace cannot be erased.
        traces.Add(
            "corrected",
            "an event",
            siteId,
            [.. request.Fields.Keys.Select(f => new Core.Access.TracedChange(f, "", ""))],
            $"event/{eventId}"
        );
        row.MaskedName = Mask.Name(new PersonName(row.FirstName, row.LastInitial));
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.NoContent();
    }

    /// <summary>Fields of an event that can be corrected, with what they are.</summary>
    public static IReadOnlyDictionary<string, string> Correctable(EventRow row)
    {
        string[] common = [FirstName, LastInitial, "city", "region", "country", "product"];
        return common.Concat(row.Fields.Keys).Distinct().ToDictionary(f => f, f => Read(row, f));
    }

    private static ProblemHttpResult? Objection(EventRow row, string field, string value)
    {
        if (!Correctable(row).ContainsKey(field))
            return Problems.BadField($"fields.{field}", $"The event has no field \"{field}\" that can be corrected.");
        if (field == LastInitial && (value.Length > 2 || value.Any(c => !char.IsLetter(c))))
            return Problems.BadField($"fields.{field}", "Of the last name one letter is kept, and no more.");
        if (field == "product" && value.Length == 0 && row.ProductName is not null)
            return Problems.BadField($"fields.{field}", "The product cannot be left empty. Hide the event instead.");
        var most = field == EventFields.Words ? EventFields.LongestWords : EventFields.LongestValue;
        return value.Length > most ? Problems.BadField($"fields.{field}", $"At most {most} characters.") : null;
    }

    private static string Read(EventRow row, string field) =>
        field switch
        {
            FirstName => row.FirstName,
            LastInitial => row.LastInitial,
            "city" => row.City,
            "region" => row.Region,
            "country" => row.Country,
            "product" => row.ProductName ?? "",
            _ => row.Fields.GetValueOrDefault(field, ""),
        };

    private static void Write(EventRow row, string field, string value)
    {
        switch (field)
        {
            case FirstName:
                row.FirstName = value;
                break;
            case LastInitial:
                row.LastInitial = value.ToUpperInvariant();
                break;
            case "city":
                row.City = value;
                break;
            case "region":
                row.Region = value;
                break;
            case "country":
                row.Country = value;
                break;
            case "product":
                row.ProductName = value.Length == 0 ? null : value;
                break;
            default:
                row.Fields = new Dictionary<string, string>(row.Fields) { [field] = value };
                break;
        }
    }
}
