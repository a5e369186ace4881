using Outcry.Core.Access;
using Outcry.Server.Platform;

namespace Outcry.Server.Publishing;

/// <summary>The addresses under which second looks are asked for and given.</summary>
internal static class ReviewRoutes
{
    public static void Map(RouteGroupBuilder api)
    {
        var kit = api.MapGroup("/sites/{siteId:guid}/kit").WithTags("Brand kit");
        kit.MapGet("", BrandKits.ShowAsync).WithName("GetBrandKit");
        kit.MapPut("", BrandKits.SetAsync).For(Right.Publish).WithName("SetBrandKit");
        kit.MapPost("/try", BrandKits.Try).WithName("TryBrandKit");
        kit.MapPost("/take-over", BrandKits.TakeOverAsync).For(Right.Draft).WithName("TakeOverBrandKit");
        var reviews = api.MapGroup("/sites/{siteId:guid}/reviews").WithTags("Reviews");
        reviews
            .MapGet("", (Guid siteId, Reviews all, CancellationToken stop) => all.ListAsync(siteId, stop))
            .For(Right.See)
            .WithName("ListReviews");
        reviews
            .MapPost(
                "/of/{definitionId:guid}",
                (Guid siteId, Guid definitionId, AskReviewRequest request, Reviews all, CancellationToken stop) =>
                    all.AskAsync(siteId, definitionId, request, stop)
            )
            .For(Right.Draft)
            .WithName("AskForReview");
        reviews
            .MapPost(
                "/{reviewId:guid}/notes",
                (Guid siteId, Guid reviewId, ReviewNoteRequest request, Reviews all, CancellationToken stop) =>
                    all.NoteAsync(siteId, reviewId, request, stop)
            )
            .For(Right.Draft)
            .WithName("NoteReview");
        reviews
            .MapPost(
                "/{reviewId:guid}/approve",
                (Guid siteId, Guid reviewId, ApproveRequest request, Reviews all, CancellationToken stop) =>
                    all.ApproveAsync(siteId, reviewId, request, stop)
            )
            .For(Right.Publish)
            .WithName("ApproveReview");
        reviews
            .MapPost(
                "/{reviewId:guid}/send-back",
                (Guid siteId, Guid reviewId, ReviewNoteRequest request, Reviews all, CancellationToken stop) =>
                    all.SendBackAsync(siteId, reviewId, request, stop)
            )
            .For(Right.Publish)
            .WithName("SendBackReview");
        reviews
            .MapDelete(
                "/{reviewId:guid}",
                (Guid siteId, Guid reviewId, Reviews all, CancellationToken stop) =>
                    all.WithdrawAsync(siteId, reviewId, stop)
            )
            .For(Right.Draft)
            .WithName("WithdrawReview");
    }
}
