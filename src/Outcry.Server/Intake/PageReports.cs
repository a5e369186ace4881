using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Takes what a page's own script reports: named events, basket additions, who its visitor is, which forms it has.</summary>
internal sealed class PageReports(BrowserIntake intake, KnownVisitors visitors, FoundForms forms, FormSends sends)
{
    /// <summary>The name under which a basket addition is reported.</summary>
    public const string Basket = "basket";

    private const int MostReports = 20;
    private const int MostData = 20;
    private const int LongestName = 60;

    public async Task<ProblemHttpResult?> TakeAsync(
        LiveSite site,
        PageReport request,
        PageAddress page,
        PageActor actor,
        Instant now,
        CancellationToken stop
    )
    {
        if (request.Track?.Count > MostReports)
            return Problems.BadField("track", $"At most {MostReports} events in one request.");
        foreach (var told in request.Track ?? [])
            if (await TrackAsync(site, told, request.Page, actor, now, stop) is { } bad)
                return bad;
        if (request.Identify is { } said && !actor.PrivacyControl)
        {
            if (said.Data.Count > MostData)
                return Problems.BadField("identify.data", $"At most {MostData} values.");
            if (intake.Count(site, actor, now) is { } tooMuch)
                return tooMuch;
            await visitors.NoteAsync(site, actor.VisitorId, Texts(said.Data), IsSigned(site, said), now, stop);
        }
        if (request.Found is { Count: > 0 } found)
            await forms.NoteAsync(site, page.RecordedPath, found, now, stop);
        if (request.Sent is { Length: > 0 } sent)
        {
            if (intake.Count(site, actor, now) is { } tooMuch)
                return tooMuch;
            await sends.NoteAsync(site, sent, request.Page, actor, now, stop);
        }
        return null;
    }

    private async Task<ProblemHttpResult?> TrackAsync(
        LiveSite site,
        TrackPart told,
        string page,
        PageActor actor,
        Instant now,
        CancellationToken stop
    )
    {
        var name = PlainText.Clean(told.Name).Trim();
        if (name.Length is 0 or > LongestName || name.Any(char.IsControl))
            return Problems.BadField("track.name", $"An event's name has 1 to {LongestName} characters.");
        if (told.Data?.Count > MostData)
            return Problems.BadField("track.data", $"At most {MostData} values with an event.");
        var data = Texts(told.Data ?? new Dictionary<string, JsonElement>());
        var takers = site.Scripts.Where(s => Takes(s, name)).ToList();
        if (takers.Count == 0)
            site.Hearing.NoteUnclaimed(name);
        foreach (var source in takers)
        {
            if (
                await intake.TakeAsync(
                    site,
                    source,
                    actor,
                    "track.data",
                    () => Read(source, told.Id, name, data, page, actor, now, site.Zone),
                    now,
                    stop
                ) is
                { } bad
            )
                return bad;
        }
        return null;
    }

    private static bool Takes(SourceRow source, string name) =>
        source.EventKind == EventKind.BasketAddition
            ? name == Basket
            : name != Basket && (source.Script!.Names.Count == 0 || source.Script.Names.Contains(name));

    private static (IncomingEvent? Event, ArrivalFault? Fault) Read(
        SourceRow source,
        Guid id,
        string name,
        Dictionary<string, string> data,
        string page,
        PageActor actor,
        Instant now,
        DateTimeZone zone
    )
    {
        var guess = MapGuess.Guess(source.EventKind, [.. data.Keys]);
        // A time of the browser's own clock proves nothing, and ids are ours.
        var places = guess.Places.Where(p =>
            p.Key is not (FieldMeaning.Time or FieldMeaning.Id or FieldMeaning.Visitor or FieldMeaning.Page)
        );
        // What nobody said should be kept is not.
        var kept = source.Display.ShownFields.Concat(source.Rules.Conditions.Select(c => c.Field)).Distinct();
        var map = new EventMap(
            source.EventKind,
            places.ToDictionary(),
            kept.Where(f => data.ContainsKey(f) && !guess.Places.Values.Contains(f))
                .Take(EventMap.MostFields)
                .ToDictionary(f => f, f => f)
        );
        var (arrival, fault) = MapReader.Read(
            map,
            data.GetValueOrDefault,
            new ReadingContext(() => id.ToString(), now, zone)
        );
        if (arrival is null)
            return (null, fault);
        var fields = new Dictionary<string, string>(arrival.Fields);
        if (source.EventKind == EventKind.Own)
            fields[EventFields.Event] = name;
        return (actor.Sign(arrival with { Fields = fields }, page), null);
    }

    private static Dictionary<string, string> Texts(IReadOnlyDictionary<string, JsonElement> data)
    {
        var texts = new Dictionary<string, string>();
        foreach (var (key, value) in data)
            if (PlainText.OrNull(key) is { Length: <= LongestName } name && PlainText.OrNull(Text(value)) is { } text)
                texts[name] = text;
        return texts;
    }

    private static string? Text(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.String => value.GetString() is { Length: <= EventFields.LongestWords } text ? text : null,
            JsonValueKind.Number => value.GetDouble().ToString("0.######", CultureInfo.InvariantCulture),
            JsonValueKind.True => "true",
            JsonValueKind.False => "false",
            _ => null,
        };

    private static bool IsSigned(LiveSite site, IdentifyPart said)
    {
        if (said.Signature is not { Length: 64 } signature || !said.Data.TryGetValue("id", out var id))
            return false;
        var expected = HMACSHA256.HashData(site.IdentitySecret, Encoding.UTF8.GetBytes(id.ToString()));
        try
        {
            return CryptographicOperations.FixedTimeEquals(Convert.FromHexString(signature), expected);
        }
        catch (FormatException)
        {
            // Not hex, so no signature of ours.
            return false;
        }
    }
}
