using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Who did something on a page, as far as the browser and the network tell.</summary>
/// <param name="VisitorId">The visitor.</param>
/// <param name="IsOwn">Whether a member or a test host is behind it.</param>
/// <param name="PrivacyControl">Whether the browser asks not to have data shared.</param>
/// <param name="Place">Where the network address is from.</param>
/// <param name="Block">Its network block, by which reports are counted for an hour; it is kept nowhere.</param>
internal sealed record PageActor(string VisitorId, bool IsOwn, bool PrivacyControl, Place Place, string Block)
{
    /// <summary>What arrived from a page as this visitor's doing there; without names and place where their browser asks for privacy.</summary>
    public IncomingEvent Sign(IncomingEvent arrival, string page)
    {
        var mayName = Consent.MayName(PrivacyControl);
        return arrival with
        {
            VisitorId = VisitorId,
            Page = page,
            FirstName = mayName ? arrival.FirstName : null,
            LastName = mayName ? arrival.LastName : null,
            City = mayName ? Place.City : null,
            Region = mayName ? Place.Region : null,
            Country = mayName ? Place.Country : null,
        };
    }
}

/// <summary>Takes forms that the snippet saw being sent.</summary>
internal sealed class FormCapture(BrowserIntake intake, ITakesLeads leads)
{
    /// <summary>Commits the submission; returns a problem when it names no form source of the site.</summary>
    public async Task<ProblemHttpResult?> TakeAsync(
        LiveSite site,
        FormSubmission form,
        string page,
        PageActor actor,
        string desk,
        Instant now,
        CancellationToken stop
    )
    {
        if (!site.Sources.TryGetValue(form.Source, out var source) || source.Form is not { } mapping)
            return Problems.BadField("form.source", "There is no such form source on this site.");
        if (
            await intake.TakeAsync(
                site,
                source,
                actor,
                "form.fields",
                () => Read(source, mapping, form, page, actor, now, site.Zone),
                now,
                stop
            ) is
            { } problem
        )
            return problem;
        // Whoever ticked no box agreed to nothing; the event is counted all the same.
        if (mapping.Promise is { } promise && (promise.Box is null || Of(form, promise.Box) is not null))
            await leads.TakeAsync(
                site,
                new SentForm(
                    form.Id,
                    source,
                    promise,
                    Of(form, mapping.Email),
                    Of(form, mapping.Phone),
                    Of(form, mapping.FirstName),
                    Of(form, mapping.LastName),
                    mapping
                        .Fields.Where(f => Of(form, f) is not null)
                        .ToDictionary(f => f, f => PlainText.Clip(Of(form, f)!, LongestAnswer)),
                    page,
                    actor,
                    desk
                ),
                now,
                stop
            );
        return null;
    }

    private const int LongestAnswer = 200;

    private static string? Of(FormSubmission form, string? field) =>
        field is not null && form.Fields.TryGetValue(field, out var value) ? PlainText.OrNull(value) : null;

    private static (IncomingEvent? Event, ArrivalFault? Fault) Read(
        SourceRow source,
        FormMapping mapping,
        FormSubmission form,
        string page,
        PageActor actor,
        Instant now,
        DateTimeZone zone
    )
    {
        // The snippet only sends what is mapped; what else arrives is dropped here all the same.
        var (arrival, fault) = MapReader.Read(
            MapOf(mapping, source.EventKind),
            form.Fields.GetValueOrDefault,
            new ReadingContext(() => form.Id.ToString(), now, zone)
        );
        return arrival is null ? (null, fault) : (actor.Sign(arrival with { Kind = source.EventKind }, page), null);
    }

    private static EventMap MapOf(FormMapping mapping, EventKind kind)
    {
        var places = new Dictionary<FieldMeaning, string>();
        foreach (
            var (meaning, field) in new[]
            {
                (FieldMeaning.FirstName, mapping.FirstName),
                (FieldMeaning.LastName, mapping.LastName),
                (FieldMeaning.Email, mapping.Email),
                (FieldMeaning.Phone, mapping.Phone),
                (FieldMeaning.Product, mapping.Product),
                (FieldMeaning.Amount, mapping.Amount),
            }
        )
            if (field is not null)
                places[meaning] = field;
        // A form may be an enquiry about nothing in particular; what its kind needs is asked of other ways in only.
        var lenient = EventMap.Needed(kind).All(places.ContainsKey) ? kind : EventKind.Enquiry;
        return new EventMap(lenient, places, mapping.Fields.ToDictionary(f => f, f => f), mapping.Currency ?? "");
    }
}
