using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Server.Pictures;
using SkiaSharp;

namespace Outcry.Server.Tests;

/// <summary>Pictures are looked into, made as small as callouts need, and kept as long as anything shows them.</summary>
public sealed class PictureTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}/pictures";

    public static byte[] Picture(int width, int height, SKEncodedImageFormat format, byte shade = 90)
    {
        using var bitmap = new SKBitmap(width, height);
        bitmap.Erase(new SKColor(shade, 40, 200));
        using var image = SKImage.FromBitmap(bitmap);
        using var data = image.Encode(format, 90);
        return data.ToArray();
    }

    private static async Task<(HttpStatusCode Status, JsonElement Body)> UploadAsync(
        DeskClient member,
        string address,
        byte[] bytes
    )
    {
        using var content = new ByteArrayContent(bytes);
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        using var answer = await member.Http.PostAsync(new Uri(address, UriKind.Relative), content);
        return (answer.StatusCode, await answer.JsonAsync());
    }

    [Fact]
    public async Task An_upload_is_written_anew_no_larger_than_needed_and_served_to_every_site()
    {
        var owner = await desk.OwnerAsync();
        var (status, kept) = await UploadAsync(
            owner,
            $"{Api}?name=Kiln.png",
            Picture(3000, 1500, SKEncodedImageFormat.Png)
        );
        Assert.Equal(
            (HttpStatusCode.OK, 960, 480),
            (status, kept.GetProperty("width").GetInt32(), kept.GetProperty("height").GetInt32())
        );
        using var served = await desk.Anonymous().GetAsync(new Uri(kept.Text("address")).PathAndQuery);
        Assert.Equal("image/webp", served.Content.Headers.ContentType!.MediaType);
        Assert.Equal("cross-origin", served.Headers.GetValues("Cross-Origin-Resource-Policy").Single());
        Assert.Contains(
            "sandbox",
            served.Headers.GetValues("Content-Security-Policy").Single(),
            StringComparison.Ordinal
        );

        // The same picture again is the same picture.
        var (_, again) = await UploadAsync(
            owner,
            $"{Api}?name=Other.png",
            Picture(3000, 1500, SKEncodedImageFormat.Png)
        );
        Assert.Equal(kept.Text("id"), again.Text("id"));
    }

    [Fact]
    public async Task What_is_no_picture_is_refused_and_named()
    {
        var owner = await desk.OwnerAsync();
        async Task<string> SaidAsync(byte[] bytes)
        {
            var (status, problem) = await UploadAsync(owner, $"{Api}?name=x", bytes);
            Assert.Equal((HttpStatusCode.BadRequest, "file"), (status, problem.Text("field")));
            return problem.Text("detail");
        }
        Assert.Contains(
            "SVG",
            await SaidAsync(Encoding.UTF8.GetBytes("<svg xmlns='http://www.w3.org/2000/svg'><script>1</script></svg>")),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "web page",
            await SaidAsync(Encoding.UTF8.GetBytes("<!doctype html><p>kiln.png")),
            StringComparison.Ordinal
        );
        Assert.Contains("empty", await SaidAsync([]), StringComparison.Ordinal);
        var cut = Picture(400, 400, SKEncodedImageFormat.Jpeg)[..40];
        Assert.NotEmpty(await SaidAsync(cut));
        var (large, _) = await UploadAsync(owner, Api, new byte[PictureFile.MostBytes + 1]);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, large);
    }

    [Fact]
    public async Task A_moving_picture_is_told_from_a_still_one_and_every_frame_is_written_anew()
    {
        // Two frames of one pixel: GIF89a with a graphic control before each (GIF89a specification, 1990).
        var gif = Convert.FromHexString(
            "47494638396101000100800000000000FFFFFF"
                + "21FF0B4E45545343415045322E300301000000"
                + "21F90400320000002C000000000100010000020244010021F90400320000002C00000000010001000002024C01003B"
        );
        var (picture, fault) = await PictureFile.ReadAsync(gif, CancellationToken.None);
        Assert.Equal("", fault);
        Assert.Equal((true, "image/webp"), (picture!.IsMoving, picture.MediaType));
        using var data = SKData.CreateCopy(picture.Bytes);
        using var codec = SKCodec.Create(data);
        Assert.Equal((2, 500), (codec.FrameCount, codec.FrameInfo[0].Duration));
    }

    [Fact]
    public async Task An_address_is_fetched_once_and_what_it_is_not_is_said()
    {
        var owner = await desk.OwnerAsync();
        var (page, problem) = await owner.PostAsync($"{Api}/fetch", new { address = $"{desk.Outside}/shop" });
        Assert.Equal((HttpStatusCode.BadRequest, "address"), (page, problem.Text("field")));
        Assert.Contains("web page", problem.Text("detail"), StringComparison.Ordinal);
        var (inside, _) = await owner.PostAsync($"{Api}/fetch", new { address = "http://127.0.0.1:9/x.png" });
        Assert.Equal(HttpStatusCode.BadRequest, inside);
    }

    [Fact]
    public async Task Pictures_are_found_by_words_and_kept_while_a_callout_shows_them()
    {
        var owner = await desk.OwnerAsync();
        var (_, kept) = await UploadAsync(
            owner,
            $"{Api}?name=Celadon%20jug",
            Picture(40, 40, SKEncodedImageFormat.Png, 12)
        );
        var found = await owner.GetAsync($"{Api}?words=celadon");
        Assert.Equal(kept.Text("id"), Assert.Single(found.EnumerateArray()).Text("id"));
        var supplied = await owner.GetAsync($"{Api}?words=lorry");
        Assert.NotEmpty(supplied.EnumerateArray());
        Assert.All(supplied.EnumerateArray(), p => Assert.Equal(JsonValueKind.Null, p.GetProperty("id").ValueKind));
        var moving = await owner.GetAsync($"{Api}?words=moving");
        Assert.All(moving.EnumerateArray(), p => Assert.True(p.GetProperty("isMoving").GetBoolean()));

        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Say = b.Say with { Picture = SayPicture.Image, PictureAddress = kept.Text("address") } }
        );
        var (used, problem) = await owner.SendAsync(HttpMethod.Delete, $"{Api}/{kept.Text("id")}");
        Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:in-use"), (used, problem.Text("type")));
        // An archived callout may come back, so its picture has to be there.
        await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/callouts/{callout}/archive");
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await owner.SendAsync(HttpMethod.Delete, $"{Api}/{kept.Text("id")}")).Status
        );
        await Moments.SaveAsync(
            owner,
            desk,
            callout,
            StarterBrief.Moment(EventKind.Purchase, [desk.World.Checkout.Id]),
            2
        );
        var (gone, _) = await owner.SendAsync(HttpMethod.Delete, $"{Api}/{kept.Text("id")}");
        Assert.Equal(HttpStatusCode.NoContent, gone);
        using var missing = await desk.Anonymous().GetAsync(new Uri(kept.Text("address")).PathAndQuery);
        Assert.Equal(HttpStatusCode.NotFound, missing.StatusCode);
        var (foreign, _) = await (await desk.StrangerAsync()).SendAsync(HttpMethod.Get, Api);
        Assert.Equal(HttpStatusCode.NotFound, foreign);
    }
}
