using System.Collections.Immutable;
using Allowance.Core.Materials;
using Allowance.Core.Setups;
using Dapper;

namespace Allowance.Store;

/// <summary>The cupboard: what the household has to play with.</summary>
public sealed class Things(Database database)
{
    private sealed class Row
    {
        public long Id { get; init; }
        public string Name { get; init; } = "";
        public string Use { get; init; } = "";
        public int Count { get; init; }
        public string Shape { get; init; } = "";
        public double A { get; init; }
        public double B { get; init; }
        public double C { get; init; }
        public string? Faces { get; init; }
        public string? Missing { get; init; }
        public bool IsFood { get; init; }
        public string? Colours { get; init; }

        public Material ToMaterial() => new(Id, Name, Enum.Parse<Use>(Use, true), Count, new(Enum.Parse<Shape>(Shape, true), A, B, C),
            Faces is null ? null : (new DiceKind(1).FromLink(Faces, "", []) as DiceValue)?.Dice.All[0],
            ByWord(Missing), IsFood, ByWord(Colours));

        private static ImmutableSortedDictionary<string, int>? ByWord(string? counts) => counts?.Split(',').Select(m => m.Split('.')).ToImmutableSortedDictionary(m => m[0], m => int.Parse(m[1]));
    }

    private readonly Kept<Cupboard> kept = new(database, () =>
    {
        using var connection = database.Connect();
        return new([.. connection.Query<Row>("select id, name, use, count, shape, a, b, c, faces, missing, is_food, colours from thing order by id").Select(r => r.ToMaterial())]);
    });

    public Cupboard All() => kept.Value;

    /// <summary>Puts a thing in, or changes the one with its id.</summary>
    public long Put(Material thing, string? post = null) => kept.After(() => database.WriteOnce(post, (connection, transaction) => connection.ExecuteScalar<long>(thing.Id == 0
        ? "insert into thing (name, use, count, shape, a, b, c, faces, missing, is_food, colours) values (@Name, @Use, @Count, @Shape, @A, @B, @C, @Faces, @Missing, @IsFood, @Colours) returning id"
        : "update thing set name = @Name, use = @Use, count = @Count, shape = @Shape, a = @A, b = @B, c = @C, faces = @Faces, missing = @Missing, is_food = @IsFood, colours = @Colours where id = @Id returning id",
        new
        {
            thing.Id, thing.Name, Use = Word(thing.Use), thing.Count, Shape = Word(thing.Size.Shape), thing.Size.A, thing.Size.B, thing.Size.C,
            Faces = thing.Faces?.ToString(), Missing = Written(thing.Gaps), thing.IsFood, Colours = Written(thing.Colours),
        }, transaction))!.Value.Made);

    private static string? Written(ImmutableSortedDictionary<string, int> counts) => counts.IsEmpty ? null : string.Join(',', counts.Select(c => $"{c.Key}.{c.Value}"));

    public void Remove(long id) => kept.After(() => database.Write((connection, transaction) => connection.Execute("delete from thing where id = @id", new { id }, transaction)));

    private static string Word<T>(T value) where T : Enum => value.ToString().ToLowerInvariant();
}
