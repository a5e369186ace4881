using Outcry.Core.Care;

namespace Outcry.Core.Tests;

public sealed class BlockedWordsTests
{
    private static readonly Dictionary<string, string> LookAlikes = new()
    {
        ["а"] = "a",
        ["о"] = "o",
        ["ɡ"] = "g",
        ["һ"] = "h",
    };

    private static readonly BlockedWords Words = new(
        ["grotbag", "mud pie", "Ünsinn", "泥団子", "ass"],
        new FoldedText(LookAlikes)
    );

    [Theory]
    [InlineData("grotbag")]
    [InlineData("GrotBag!")]
    [InlineData("what a grotbag.")]
    [InlineData("grötbág")]
    [InlineData("g r o t b a g")]
    [InlineData("g.r.o.t.b.a.g")]
    [InlineData("g-r-o-t-b-a-g Klein")]
    [InlineData("gr0tb4g")]
    [InlineData("grоtbаg", "Cyrillic о and а")]
    [InlineData("ｇｒｏｔｂａｇ", "full-width letters")]
    [InlineData("𝓰𝓻𝓸𝓽𝓫𝓪𝓰", "mathematical letters")]
    [InlineData("grooootbaaaag", "stretched")]
    [InlineData("g\u200Brot\u200Bbag", "zero-width spaces")]
    [InlineData("g\u0336r\u0336o\u0336t\u0336b\u0336a\u0336g\u0336", "struck through")]
    public void A_word_is_found_however_it_is_disguised(string text, string? how = null) =>
        Assert.True(Words.Find(text) == "grotbag", how ?? text);

    [Fact]
    public void What_was_looked_at_before_is_answered_alike_and_no_lot_knows_of_another()
    {
        string[] texts = ["Ash-glaze mug", "g r o t b a g", "Ash-glaze mug", "one mud pie", "g r o t b a g"];
        var (lot, other) = (Words.Remembering(), Words.Remembering());
        Assert.Equal([null, "grotbag", null, "mud pie", "grotbag"], texts.Select(lot.Find));
        Assert.Equal("mud pie", other.FindIn([.. texts.Where((_, i) => i % 2 == 1 && i > 1)]));
        Assert.Equal((Words.Count, "grotbag"), (lot.Count, Words.FindIn(texts)));
    }

    [Theory]
    [InlineData("Grotbagshire")]
    [InlineData("megrotbag")]
    [InlineData("Cassandra Bassett")]
    [InlineData("a s")]
    [InlineData("2455")]
    [InlineData("Saoirse")]
    [InlineData("")]
    public void A_word_inside_another_word_passes(string text) => Assert.Null(Words.Find(text));

    [Fact]
    public void A_phrase_is_found_across_signs_and_spaces()
    {
        Assert.Equal("mud pie", Words.Find("Mud   PIE"));
        Assert.Equal("mud pie", Words.Find("the mud-pie incident"));
        Assert.Null(Words.Find("pie of mud"));
    }

    [Fact]
    public void The_entry_is_told_as_it_stands_in_the_list() => Assert.Equal("Ünsinn", Words.Find("so ein unsinn"));

    [Fact]
    public void In_a_script_without_spaces_a_word_is_found_anywhere() =>
        Assert.Equal("泥団子", Words.Find("きれいな泥団子ですね"));

    [Fact]
    public void Any_of_several_texts_is_enough()
    {
        Assert.Equal("grotbag", Words.FindIn(["Noor", null, "", "Grotbag mug"]));
        Assert.Null(Words.FindIn(["Noor", null]));
    }

    [Theory]
    [InlineData("\uD800")]
    [InlineData("\0\u0001")]
    [InlineData("‮test‬")]
    [InlineData("(ﾉಥ益ಥ）ﾉ﻿ ┻━┻")]
    public void Hostile_text_is_only_text(string text) => Assert.Null(Words.Find(text));

    [Fact]
    public void A_blank_entry_blocks_nothing()
    {
        var blank = new BlockedWords(["", "  ", "!!"], new FoldedText());
        Assert.Equal(0, blank.Count);
        Assert.Null(blank.Find("anything at all"));
    }

    [Fact]
    public void A_site_chooses_languages_adds_words_and_takes_words_out()
    {
        var supplied = new Dictionary<string, string[]> { ["en"] = ["grotbag", "mud"], ["nl"] = ["pot"] };
        var english = WordChoice.Start with { Added = ["seconds"], TakenOut = ["MUD"] };
        Assert.Equal(["grotbag", "seconds"], english.Apply(supplied));
        Assert.Equal(["en", "nl"], WordChoice.For("nl-BE").Languages);
        Assert.Contains("pot", WordChoice.For("nl").Apply(supplied));
        Assert.DoesNotContain("pot", WordChoice.Start.Apply(supplied));
        Assert.Empty((WordChoice.Start with { Languages = [] }).Apply(supplied));
    }
}
