using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Care;
using Outcry.Core.Saying;
using Outcry.Server.Intake;
using Outcry.Server.Sites;

namespace Outcry.Server.Leads;

/// <summary>Whoever sends a form of the site with a promise beside it is a lead, with that promise word for word.</summary>
internal sealed class FormLeads(LeadBook book) : ITakesLeads
{
    private const int LongestName = 80;

    public async Task TakeAsync(LiveSite site, SentForm form, Instant now, CancellationToken stop)
    {
        var email = form.Email is { } typed ? AnswerSheet.ReadEmail(typed) : null;
        var phone = form.Phone is { } number ? PhoneNumber.ToE164(number, site.Region) : null;
        // What is no address is in the event as it was sent, and nobody can be written to there.
        if (email is null && phone is null)
            return;
        var values = new Dictionary<string, string>(form.Answers);
        foreach (
            var (key, value) in new[] { ("email", email), ("phone", phone), ("first_name", NameOf(form.FirstName)) }
        )
            if (value is not null)
                values[key] = value;
        await book.TakeAsync(
            site,
            new NewYes(
                form.Id,
                new SaidYesTo(form.Source.Id, 0, form.Source.Name),
                new AskFacet(
                    [],
                    [],
                    [],
                    Ticks: form.Promise.Box is not null,
                    // By a number alone nothing can be confirmed by mail.
                    Confirms: form.Promise.Confirms && email is not null,
                    Reward.Nothing,
                    form.Promise.Tags
                ),
                new AnswerSheet(
                    values,
                    new Dictionary<string, BuiltInWord>(),
                    email,
                    phone,
                    NameOf(form.FirstName),
                    NameOf(form.LastName)
                ),
                form.Promise.Text,
                site.Context.Language,
                form.Page.Split('?', 2)[0],
                "",
                form.Actor.VisitorId,
                form.Actor.PrivacyControl ? "" : form.Actor.Place.City,
                form.Actor.IsOwn
            ),
            form.Desk,
            stop
        );
    }

    private static string? NameOf(string? typed) =>
        typed is null ? null : PlainText.Clip(PlainText.Clean(typed).Trim(), LongestName);
}
