using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Scripts;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;

namespace Outcry.Server.Talks;

/// <summary>Talks: at the visitor's side over the page's own door, at the team's side as an inbox.</summary>
internal static class TalksFeature
{
    public static void AddTalks(this WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<TalkLines>();
        builder.Services.AddSingleton<TalkNews>();
        builder.Services.AddSingleton<INewsTaker>(p => p.GetRequiredService<TalkNews>());
        builder.Services.AddDefinitionKind(ScriptKind.Instance, ScriptView.Of, hasOwnList: true);
        builder.Services.AddSingleton<TalkScripts>();
        builder.Services.AddSingleton<TalkBook>();
        builder.Services.AddSingleton<TalkRecipients>();
        builder.Services.AddSingleton<TalkLetters>();
        builder.Services.AddSingleton<TalkDoor>();
        builder.Services.AddSingleton<BeginTalk>();
        builder.Services.AddSingleton<TalkLeads>();
        builder.Services.AddSingleton<VisitorSays>();
        builder.Services.AddSingleton<FollowTalk>();
        builder.Services.AddSingleton<VisitorSendsFile>();
        builder.Services.AddSingleton<MyTalk>();
        builder.Services.AddSingleton<Bookings>();
        builder.Services.AddScoped<TalkActs>();
        builder.Services.AddScoped<AnswerTalk>();
        builder.Services.AddScoped<AssignTalk>();
        builder.Services.AddScoped<ManageTalk>();
        builder.Services.AddSingleton<TalkRound>();
        if (!PlatformFeature.IsDocumentBuild)
            builder.Services.AddHostedService(p => p.GetRequiredService<TalkRound>());
    }

    public static void MapTalks(this WebApplication app)
    {
        var talks = app.MapGroup("/v/talks").WithTags("Visitor").RequireRateLimiting(Limits.Visitor);
        Post<BeginTalkRequest>(talks, "", (HttpContext http, BeginTalk begin) => begin.HandleAsync(http))
            .WithName("BeginTalk")
            .Produces<BegunTalk>(StatusCodes.Status201Created);
        Post<SayRequest>(talks, "/words", (HttpContext http, VisitorSays says) => says.SayAsync(http))
            .WithName("SayInTalk")
            .Produces<SaidAnswer>();
        Post<ReadTalkRequest>(talks, "/stream", (HttpContext http, FollowTalk follow) => follow.StreamAsync(http))
            .WithName("StreamTalk")
            .Produces(StatusCodes.Status200OK, contentType: "text/event-stream");
        Post<ReadTalkRequest>(talks, "/read", (HttpContext http, FollowTalk follow) => follow.ReadAsync(http))
            .WithName("ReadTalk")
            .Produces<TalkPart>();
        talks
            .MapPost("/files", (HttpContext http, VisitorSendsFile sends) => sends.HandleAsync(http))
            .Accepts<SendFileRequest>("multipart/form-data")
            .WithName("SendFileInTalk")
            .Produces<SaidAnswer>()
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status413PayloadTooLarge)
            .ProducesProblem(StatusCodes.Status429TooManyRequests)
            .DisableAntiforgery();
        talks.MapGet("/files/{siteKey}/{link}", TalkFiles.ServeAsync).WithName("GetTalkFile");
        Post<TalkSignRequest>(talks, "/signs", (HttpContext http, VisitorSays says) => says.SignAsync(http))
            .WithName("SignInTalk")
            .Produces(StatusCodes.Status204NoContent);
        Post<LeaveAddressRequest>(
                talks,
                "/address",
                (HttpContext http, VisitorSays says) => says.LeaveAddressAsync(http)
            )
            .WithName("LeaveAddress")
            .Produces(StatusCodes.Status204NoContent);
        Post<EndTalkRequest>(talks, "/end", (HttpContext http, VisitorSays says) => says.EndAsync(http))
            .WithName("EndTalk")
            .Produces(StatusCodes.Status204NoContent);
        Post<MyTalkRequest>(talks, "/mine", (HttpContext http, MyTalk mine) => mine.HandleAsync(http))
            .WithName("FindMyTalk")
            .Produces<BegunTalk>()
            .Produces(StatusCodes.Status204NoContent);
        Post<ResumeTalkRequest>(
                talks,
                "/resume",
                (HttpContext http, LiveSites sites, SystemDb database, IClock clock) =>
                    ResumeTalk.HandleAsync(http, sites, database, clock)
            )
            .WithName("ResumeTalk")
            .Produces<BegunTalk>();
    }

    // Beacons and simple requests come as plain text, so that no preflight is needed.
    private static RouteHandlerBuilder Post<TRequest>(RouteGroupBuilder talks, string path, Delegate handler)
        where TRequest : notnull =>
        talks
            .MapPost(path, handler)
            .Accepts<TRequest>("text/plain", "application/json")
            .ProducesProblem(StatusCodes.Status400BadRequest)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status429TooManyRequests);

    public static void MapInbox(this RouteGroupBuilder api)
    {
        var inbox = api.MapGroup("/sites/{siteId:guid}/talks").WithTags("Inbox");
        inbox.MapGet("", ListTalks.HandleAsync).For(Right.Answer).WithName("ListTalks");
        inbox.MapGet("/counts", ListTalks.CountAsync).For(Right.Answer).WithName("CountTalks");
        inbox.MapGet("/answering", ShowTalk.AnsweringAsync).For(Right.Answer).WithName("ListAnswering");
        var one = inbox.MapGroup("/{talkId:guid}");
        one.MapGet("", ShowTalk.HandleAsync).For(Right.Answer).WithName("GetTalk");
        one.MapPost(
                "/words",
                (Guid siteId, Guid talkId, AnswerRequest request, AnswerTalk answer, CancellationToken stop) =>
                    answer.SayAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("AnswerTalk");
        one.MapPost("/files", SendFile.HandleAsync).For(Right.Answer).WithName("SendFile");
        one.MapDelete("/booking", CallOffBooking.HandleAsync).For(Right.Answer).WithName("CallOffBooking");
        one.MapPost("/merge", MergeTalk.HandleAsync).For(Right.Answer).WithName("MergeTalk");
        one.MapPost(
                "/assign",
                (Guid siteId, Guid talkId, AssignRequest request, AssignTalk assign, CancellationToken stop) =>
                    assign.AssignAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("AssignTalk");
        one.MapPost(
                "/snooze",
                (Guid siteId, Guid talkId, SnoozeRequest request, ManageTalk manage, CancellationToken stop) =>
                    manage.SnoozeAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("SnoozeTalk");
        one.MapPost(
                "/close",
                (Guid siteId, Guid talkId, CloseTalkRequest request, ManageTalk manage, CancellationToken stop) =>
                    manage.CloseAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("CloseTalk");
        one.MapPost(
                "/reopen",
                (Guid siteId, Guid talkId, ManageTalk manage, CancellationToken stop) =>
                    manage.ReopenAsync(siteId, talkId, stop)
            )
            .For(Right.Answer)
            .WithName("ReopenTalk");
        one.MapPut(
                "/tags",
                (Guid siteId, Guid talkId, TagsRequest request, ManageTalk manage, CancellationToken stop) =>
                    manage.TagAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("TagTalk");
        one.MapPut(
                "/name",
                (Guid siteId, Guid talkId, NameVisitorRequest request, ManageTalk manage, CancellationToken stop) =>
                    manage.NameAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("NameVisitor");
        one.MapPut(
                "/blocked",
                (Guid siteId, Guid talkId, BlockRequest request, ManageTalk manage, CancellationToken stop) =>
                    manage.BlockAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("BlockVisitor");
        one.MapPost(
                "/types",
                (Guid siteId, Guid talkId, AnswerTalk answer, CancellationToken stop) =>
                    answer.TypeAsync(siteId, talkId, stop)
            )
            .For(Right.Answer)
            .WithName("TypeInTalk");
        one.MapPost(
                "/seen",
                (Guid siteId, Guid talkId, SeenRequest request, AnswerTalk answer, CancellationToken stop) =>
                    answer.SeeAsync(siteId, talkId, request, stop)
            )
            .For(Right.Answer)
            .WithName("SeeTalk");
        var scripts = api.MapGroup("/sites/{siteId:guid}/scripts").WithTags("Scripts");
        scripts.MapGet("", ScriptDesk.ListAsync).WithName("ListScripts");
        scripts.MapPost("", ScriptDesk.StartAsync).For(Right.Draft).WithName("StartScript");
        scripts.MapPost("/try", ScriptDesk.Try).WithName("TryScript");
        scripts.MapGet("/{scriptId:guid}/reach", ScriptDesk.ReachAsync).WithName("GetScriptReach");
        var saved = api.MapGroup("/sites/{siteId:guid}/saved-replies").WithTags("Inbox");
        saved.MapGet("", SavedReplies.ListAsync).For(Right.Answer).WithName("ListSavedReplies");
        saved.MapPost("", SavedReplies.AddAsync).For(Right.Answer).WithName("AddSavedReply");
        saved.MapPut("/{replyId:guid}", SavedReplies.ChangeAsync).For(Right.Answer).WithName("ChangeSavedReply");
        saved.MapDelete("/{replyId:guid}", SavedReplies.RemoveAsync).For(Right.Answer).WithName("RemoveSavedReply");
    }
}
