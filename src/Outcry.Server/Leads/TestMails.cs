using Microsoft.AspNetCore.Http.HttpResults;
using Outcry.Core.Asking;
using Outcry.Core.Following;
using Outcry.Core.Saying;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Leads;

/// <param name="Step">As it is on the screen.</param>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
internal sealed record TestFollowMailRequest(FollowStep Step, string Language);

/// <param name="Ask">As it is on the screen.</param>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
internal sealed record TestConfirmMailRequest(AskFacet Ask, string Language);

/// <param name="To">Where it goes.</param>
internal sealed record TestMailView(string To);

/// <summary>Sends mails to the member who wrote them, as leads would get them.</summary>
internal static class TestMails
{
    public static async Task<Results<Ok<TestMailView>, ProblemHttpResult>> FollowUpAsync(
        Guid siteId,
        TestFollowMailRequest request,
        OutcryDb db,
        LiveSites sites,
        LeadLetters letters,
        Postman postman,
        CurrentMember member,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var language = request.Language.Length > 0 ? request.Language : site.Context.Language;
        var follow = FollowUp.Start with { Steps = [request.Step] };
        if (FollowUpKind.Instance.TooLarge(follow) is { } large)
            return Problems.BadField("step", large);
        if (
            request.Step.Kind != FollowKind.Mail
            || FollowUpKind
                .Problems(follow)
                .FirstOrDefault(p => p.Blocks && p.Field.StartsWith("steps[0]", StringComparison.Ordinal))
                is { } problem
        )
            return Problems.BadField(
                "step",
                "Write its subject and its text first, and mend what is told at its line."
            );
        return await SendAsync(
            db,
            postman,
            member,
            language,
            () => letters.TestFollowUp(db, site, member.Email, member.Name.Split(' ', 2)[0], request.Step, language),
            stop
        );
    }

    public static async Task<Results<Ok<TestMailView>, ProblemHttpResult>> ConfirmAsync(
        Guid siteId,
        TestConfirmMailRequest request,
        OutcryDb db,
        LiveSites sites,
        LeadLetters letters,
        Postman postman,
        CurrentMember member,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var language = request.Language.Length > 0 ? request.Language : site.Context.Language;
        if (request.Ask.Words.Any(w => w.Mail.Length > LongestWords))
            return Problems.BadField("ask", "The words of the mail are longer than any that could be published.");
        return await SendAsync(
            db,
            postman,
            member,
            language,
            () => letters.TestConfirm(db, site, member.Email, request.Ask, language),
            stop
        );
    }

    private const int LongestWords = 4_000;

    private static async Task<Results<Ok<TestMailView>, ProblemHttpResult>> SendAsync(
        OutcryDb db,
        Postman postman,
        CurrentMember member,
        string language,
        Action write,
        CancellationToken stop
    )
    {
        if (!LanguageTag.IsWellFormed(language))
            return Problems.BadField("language", "There is no such language.");
        if (!postman.IsSet)
            return Problems.Of(
                StatusCodes.Status409Conflict,
                "no-mail",
                "No mail can be sent",
                "The desk has no mail server. Whoever runs it sets one under \"Mail\"."
            );
        write();
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(new TestMailView(member.Email));
    }
}
