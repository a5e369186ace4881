using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;

namespace Outcry.Server.Intake;

/// <summary>Takes forms that the snippet saw being sent.</summary>
internal sealed class FormCapture(EventRecorder recorder)
{
    /// <summary>Commits the submission; returns a problem when it names no form source of the site.</summary>
    public async Task<ProblemHttpResult?> TakeAsync(
        LiveSite site,
        FormSubmission form,
        string page,
        string visitorId,
        bool isTest,
        Instant now,
        CancellationToken stop
    )
    {
        if (!site.Sources.TryGetValue(form.Source, out var source) || source.Form is not { } mapping)
            return Problems.BadField("form.source", "There is no such form source on this site.");
        // The snippet only sends what is mapped; what else arrives is dropped here all the same.
        var wanted = mapping.Wanted.ToHashSet();
        var fields = form.Fields.Where(f => wanted.Contains(f.Key)).ToDictionary(f => f.Key, f => f.Value);
        var product = Value(fields, mapping.Product);
        var incoming = new IncomingEvent
        {
            ExternalId = form.Id.ToString(),
            Kind = source.EventKind,
            At = now,
            FirstName = Value(fields, mapping.FirstName),
            LastName = Value(fields, mapping.LastName),
            Email = Value(fields, mapping.Email),
            VisitorId = visitorId,
            Page = page.Split('#')[0],
            Product = string.IsNullOrWhiteSpace(product) ? null : new EventProduct(product),
            Fields = fields.Where(f => mapping.Fields.Contains(f.Key)).ToDictionary(),
            IsTest = isTest,
        };
        await recorder.RecordAsync(incoming, source, now, stop);
        return null;
    }

    private static string? Value(Dictionary<string, string> fields, string? name) =>
        name is null ? null : fields.GetValueOrDefault(name);
}
