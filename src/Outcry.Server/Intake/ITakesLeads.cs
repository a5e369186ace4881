using NodaTime;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>A form of the site that somebody sent with a promise beside it.</summary>
/// <param name="Id">Of this sending: sent twice it is one yes.</param>
/// <param name="Source">The source that listens to the form.</param>
/// <param name="Promise">What they agreed to.</param>
/// <param name="Email">As they wrote it; null where the form has no such field.</param>
/// <param name="Phone">The same.</param>
/// <param name="Answers">The fields that are kept, by name.</param>
/// <param name="Page">Address of the page.</param>
/// <param name="Desk">Address under which links in mails are opened.</param>
internal sealed record SentForm(
    Guid Id,
    SourceRow Source,
    FormPromise Promise,
    string? Email,
    string? Phone,
    string? FirstName,
    string? LastName,
    IReadOnlyDictionary<string, string> Answers,
    string Page,
    PageActor Actor,
    string Desk
);

/// <summary>Makes leads of those who send a form.</summary>
internal interface ITakesLeads
{
    Task TakeAsync(LiveSite site, SentForm form, Instant now, CancellationToken stop);
}

/// <summary>Where nobody keeps leads, as when a month is made up, a form that is sent is an event and nothing more.</summary>
internal sealed class NobodyTakesLeads : ITakesLeads
{
    public Task TakeAsync(LiveSite site, SentForm form, Instant now, CancellationToken stop) => Task.CompletedTask;
}
