using System.Reflection;
using System.Security.Cryptography;
using System.Text;

namespace Allowance.Core.Learner;

/// <summary>A model as bytes, so that a long log need not be replayed after every start.</summary>
public sealed partial class ChildModel
{
    /// <summary>Changes with the constants and the skills: bytes that were kept under another mark are worthless.</summary>
    public static string Mark { get; } = MakeMark();

    /// <summary>What is believed when the last day is over. Notes of later days may follow; one more of that day needs a replay.</summary>
    public byte[] ToBytes()
    {
        if (ofToday.Count > 0)
        {
            var over = Copy();
            over.EndDay();
            return over.ToBytes();
        }
        using var bytes = new MemoryStream();
        using var writer = new BinaryWriter(bytes);
        writer.Write(today?.DayNumber ?? -1);
        writer.Write(Observations);
        foreach (double m in mean) writer.Write(m);
        foreach (double c in covariance) writer.Write(c);
        foreach (var form in forms) Write(writer, form);
        foreach (var habit in methods.Append(help))
        {
            writer.Write(habit.By);
            writer.Write(habit.Seen);
        }
        writer.Write(facts.Count);
        foreach (var (key, fact) in facts)
        {
            writer.Write(key);
            Write(writer, fact);
        }
        foreach (var band in history)
        {
            Write(writer, band.LastMet);
            Write(writer, band.LastRight);
            writer.Write(band.Seen);
            writer.Write(band.Right);
            writer.Write(band.Days);
            writer.Write(band.Lately);
            writer.Write(band.RightDays);
            writer.Write(band.FluentSeen);
            writer.Write(band.WatchedRight);
            writer.Write(band.WasSteady);
            writer.Write(band.Forms);
        }
        foreach (var skill in meetings)
        {
            Write(writer, skill.Last);
            Write(writer, skill.Before);
            writer.Write(skill.Returns);
        }
        writer.Flush();
        return bytes.ToArray();
    }

    /// <summary>The model that <see cref="ToBytes"/> wrote.</summary>
    /// <returns>Null where the bytes are not whole.</returns>
    public static ChildModel? FromBytes(byte[] body)
    {
        try
        {
            using var reader = new BinaryReader(new MemoryStream(body));
            var model = new ChildModel(fades: true);
            model.today = Day(reader);
            model.Observations = reader.ReadInt32();
            for (int i = 0; i < model.mean.Length; i++) model.mean[i] = reader.ReadDouble();
            for (int i = 0; i < model.covariance.Length; i++) model.covariance[i] = reader.ReadDouble();
            for (int i = 0; i < model.forms.Length; i++) model.forms[i] = ReadGaussian(reader);
            for (int i = 0; i < model.methods.Length; i++) model.methods[i] = ReadUsual(reader);
            model.help = ReadUsual(reader);
            int count = reader.ReadInt32();
            for (int i = 0; i < count; i++) model.facts[reader.ReadInt64()] = ReadGaussian(reader);
            for (int i = 0; i < model.history.Length; i++)
                model.history[i] = new BandHistory
                {
                    LastMet = Day(reader), LastRight = Day(reader), Seen = reader.ReadInt32(), Right = reader.ReadInt32(), Days = reader.ReadInt32(), Lately = reader.ReadUInt32(), RightDays = reader.ReadInt32(),
                    FluentSeen = reader.ReadInt32(), WatchedRight = reader.ReadInt32(), WasSteady = reader.ReadBoolean(), Forms = reader.ReadUInt32(),
                };
            for (int i = 0; i < model.meetings.Length; i++) model.meetings[i] = new Meeting { Last = Day(reader), Before = Day(reader), Returns = reader.ReadInt32() };
            return model;
        }
        catch (EndOfStreamException)
        {
            return null;
        }
    }

    private static void Write(BinaryWriter writer, Gaussian g)
    {
        writer.Write(g.Mean);
        writer.Write(g.Variance);
    }

    private static Gaussian ReadGaussian(BinaryReader reader) => new(reader.ReadDouble(), reader.ReadDouble());

    private static Usual ReadUsual(BinaryReader reader) => new() { By = reader.ReadDouble(), Seen = reader.ReadInt32() };

    private static void Write(BinaryWriter writer, DateOnly? day) => writer.Write(day?.DayNumber ?? -1);

    private static DateOnly? Day(BinaryReader reader) => reader.ReadInt32() is var day and >= 0 ? DateOnly.FromDayNumber(day) : null;

    /// <summary>What is kept, and how it came to be; changes with <see cref="ToBytes"/> and with the order of a day.</summary>
    private const string Kept = "with forms and habits, days gone through anew, how it went of late";

    private static string MakeMark()
    {
        var text = new StringBuilder(Kept);
        foreach (var field in typeof(Constants).GetFields(BindingFlags.Public | BindingFlags.Static).Where(f => f.IsLiteral)) text.Append(field.Name).Append(field.GetRawConstantValue()).Append(';');
        foreach (double m in Constants.MethodFrom) text.Append(m).Append(';');
        foreach (var band in Asks.Feeding.Bands) text.Append(band).Append(';');
        return Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())))[..16];
    }
}
