using Outcry.Core.Access;
using Outcry.Core.Following;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Visitor;

namespace Outcry.Server.Leads;

/// <summary>People who said yes to prompts: taken in, confirmed, taken back, given what was promised, listed.</summary>
internal static class LeadsFeature
{
    public static void AddLeads(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<LeadLetters>();
        builder.Services.AddSingleton<LeadBook>();
        builder.Services.AddSingleton<ITakesLeads, FormLeads>();
        builder.Services.AddScoped<ImportLeads>();
        builder.Services.AddSingleton<LeadPages>();
        builder.Services.AddSingleton<TakeYes>();
        builder.Services.AddSingleton<TakeBounce>();
        builder.Services.AddSingleton<HookRound>();
        builder.Services.AddSingleton<FollowRound>();
        builder.Services.AddDefinitionKind(FollowUpKind.Instance, FollowUpView.Of, hasOwnList: true);
        if (PlatformFeature.IsDocumentBuild)
            return;
        builder.Services.AddHostedService(p => p.GetRequiredService<HookRound>());
        builder.Services.AddHostedService(p => p.GetRequiredService<FollowRound>());
    }

    public static void MapAsks(this WebApplication app)
    {
        var asks = app.MapGroup("/v/asks").WithTags("Visitor").RequireRateLimiting(Limits.Visitor);
        asks.MapPost("", (HttpContext http, TakeYes take) => take.HandleAsync(http))
            .Accepts<YesRequest>("text/plain", "application/json")
            .WithName("SayYes")
            .Produces<YesAnswer>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status429TooManyRequests);
        asks.MapPost("/again", (HttpContext http, TakeYes take) => take.AgainAsync(http))
            .Accepts<AskAgainRequest>("text/plain", "application/json")
            .WithName("AskAgain")
            .Produces(StatusCodes.Status204NoContent)
            .ProducesProblem(StatusCodes.Status403Forbidden);
        app.MapPost("/in/bounces", (HttpContext http, TakeBounce take) => take.HandleAsync(http))
            .WithTags("Intake")
            .WithName("TakeBounce")
            .WithDescription(
                "A delivery status notification (RFC 3464) as it arrived, from the house's own mail server."
            )
            .RequireRateLimiting(Limits.Intake)
            .Produces<BounceAnswer>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status401Unauthorized)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status413PayloadTooLarge)
            .ProducesProblem(StatusCodes.Status429TooManyRequests);
        var pages = app.MapGroup("/o").WithTags("Visitor").RequireRateLimiting(Limits.Visitor);
        pages.MapGet(
            "/confirm/{siteKey}/{token}",
            (string siteKey, string token, HttpContext http, LeadPages p) => p.AskConfirmAsync(siteKey, token, http)
        );
        pages
            .MapPost(
                "/confirm/{siteKey}/{token}",
                (string siteKey, string token, HttpContext http, LeadPages p) => p.ConfirmAsync(siteKey, token, http)
            )
            .DisableAntiforgery();
        pages.MapGet(
            "/leave/{siteKey}/{token}",
            (string siteKey, string token, HttpContext http, LeadPages p) => p.AskLeaveAsync(siteKey, token, http)
        );
        pages
            .MapPost(
                "/leave/{siteKey}/{token}",
                (string siteKey, string token, HttpContext http, LeadPages p) => p.LeaveAsync(siteKey, token, http)
            )
            .DisableAntiforgery();
        pages.MapGet(
            "/fetch/{siteKey}/{token}",
            (string siteKey, string token, HttpContext http, LeadPages p) => p.FetchAsync(siteKey, token, http)
        );
        pages.MapGet("/pages/{siteKey}.css", LeadPages.Style);
    }

    public static void MapLeads(this RouteGroupBuilder api)
    {
        var leads = api.MapGroup("/sites/{siteId:guid}/leads").WithTags("Leads");
        leads.MapGet("", ListLeads.HandleAsync).For(Right.Answer).WithName("ListLeads");
        leads.MapGet("/export.{format}", ExportLeads.Handle).For(Right.Answer).WithName("ExportLeads");
        leads
            .MapPost(
                "/import",
                (
                    Guid siteId,
                    HttpRequest request,
                    ImportLeads import,
                    CancellationToken stop,
                    string name = "",
                    bool dryRun = false
                ) => import.HandleAsync(siteId, request, name, dryRun, stop)
            )
            .For(Right.Publish)
            .WithName("ImportLeads");
        leads.MapPost("/tags", ChangeLeads.TagAsync).For(Right.Answer).WithName("TagLeads");
        leads.MapGet("/{leadId:guid}", ShowLead.HandleAsync).For(Right.Answer).WithName("GetLead");
        leads.MapPost("/{leadId:guid}/withdraw", ChangeLeads.WithdrawAsync).For(Right.Answer).WithName("WithdrawLead");
        leads.MapDelete("/{leadId:guid}", ChangeLeads.EraseAsync).For(Right.Govern).WithName("EraseLead");
        api.MapGet("/sites/{siteId:guid}/callouts/{calloutId:guid}/asked", AskedFigures.HandleAsync)
            .WithTags("Leads")
            .WithName("GetAsked");
        api.MapGet("/sites/{siteId:guid}/callouts/{calloutId:guid}/mail", ShowMail.ConfirmAsync)
            .ExcludeFromDescription();
        var follow = api.MapGroup("/sites/{siteId:guid}/followups").WithTags("Followups");
        follow.MapGet("", FollowUpDesk.ListAsync).WithName("ListFollowups");
        follow.MapPost("", FollowUpDesk.StartAsync).For(Right.Draft).WithName("StartFollowup");
        follow.MapPost("/test-mail", TestMails.FollowUpAsync).For(Right.Draft).WithName("TestFollowMail");
        api.MapPost("/sites/{siteId:guid}/prompts/test-mail", TestMails.ConfirmAsync)
            .For(Right.Draft)
            .WithTags("Leads")
            .WithName("TestConfirmMail");
        follow.MapPost("/rehearse", FollowUpDesk.Rehearse).WithName("RehearseFollowup");
        follow.MapGet("/{followUpId:guid}/figures", FollowUpDesk.CountAsync).WithName("CountFollowup");
        var hooks = api.MapGroup("/sites/{siteId:guid}/webhooks").WithTags("Leads");
        hooks.MapGet("", WebhookDesk.ListAsync).For(Right.Connect).WithName("ListWebhooks");
        hooks.MapPost("", WebhookDesk.AddAsync).For(Right.Connect).WithName("AddWebhook");
        hooks.MapPut("/{hookId:guid}", WebhookDesk.ChangeAsync).For(Right.Connect).WithName("ChangeWebhook");
        hooks.MapDelete("/{hookId:guid}", WebhookDesk.RemoveAsync).For(Right.Connect).WithName("RemoveWebhook");
        hooks.MapPost("/{hookId:guid}/test", WebhookDesk.TestAsync).For(Right.Connect).WithName("TestWebhook");
        hooks
            .MapPost("/{hookId:guid}/messages/{messageId:guid}/again", WebhookDesk.AgainAsync)
            .For(Right.Connect)
            .WithName("SendMessageAgain");
        var rewards = api.MapGroup("/sites/{siteId:guid}/rewards").WithTags("Leads");
        rewards.MapGet("", Rewards.ListAsync).WithName("ListRewards");
        rewards.MapPost("/codes", Rewards.AddCodesAsync).For(Right.Publish).WithName("AddCodes");
        rewards.MapDelete("/codes/{poolId:guid}", Rewards.RemovePoolAsync).For(Right.Publish).WithName("RemovePool");
        rewards.MapPost("/files", Rewards.AddFileAsync).For(Right.Publish).WithName("AddRewardFile");
        rewards
            .MapDelete("/files/{fileId:guid}", Rewards.RemoveFileAsync)
            .For(Right.Publish)
            .WithName("RemoveRewardFile");
    }
}
