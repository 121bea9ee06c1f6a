using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>What things are called, in the plural.</summary>
public sealed record NounsValue : KnobValue
{
    public NounsValue(params IEnumerable<string> nouns) => Nouns = [.. nouns.Distinct()];

    public ImmutableList<string> Nouns { get; }

    public override string ToLink() => string.Join('.', Nouns);

    public override JsonNode ToJson() => new JsonArray([.. Nouns.Select(n => (JsonNode)n)]);

    public override string Says() => Words.List(Nouns);

    public bool Equals(NounsValue? other) => other is not null && Nouns.SequenceEqual(other.Nouns);

    public override int GetHashCode() => ToLink().GetHashCode(StringComparison.Ordinal);
}

/// <summary>A few words for things, in the plural.</summary>
public sealed record NounsKind(int Most, int MostLetters = 24) : KnobKind
{
    private static readonly ImmutableArray<string> Usual = ["shells", "buttons", "pebbles"];

    public override string Says => $"a list of 1 to {Most} words in the plural, of letters";

    public override JsonObject Schema => Schemas.List(Schemas.Typed("string"), 1, Most);

    public override Field Field => new TextField(string.Join(", ", Usual));

    public override KnobValue Sample(ref Rng rng) => new NounsValue(Usual.Take(1 + rng.Below(Usual.Length)));

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        json.ValueKind == JsonValueKind.Array ? Check([.. json.EnumerateArray().Select(n => n.ValueKind == JsonValueKind.String ? n.GetString()! : "")], path, problems) : Check([], path, problems);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => Check(text.Split(['.', ',', ';', '\n'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries), path, problems);

    private KnobValue? Check(IReadOnlyList<string> nouns, string path, List<Problem> problems) =>
        nouns.Count >= 1 && nouns.Count <= Most && nouns.All(IsWord) ? new NounsValue(nouns.Select(n => n.Trim()))
        : Refuse(problems, path, $"Here stand one to {Most} words for things in the plural, such as {Words.List(Usual)}.", new NounsValue(Usual).ToJson());

    /// <summary>Letters, with a space, a hyphen or an apostrophe between them.</summary>
    public bool IsWord(string noun) => noun.Trim() is { Length: > 1 } word && word.Length <= MostLetters && word.All(c => char.IsLetter(c) || c is ' ' or '-' or '’' or '\'');
}
