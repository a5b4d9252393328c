using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Takes;
using Kinetra.Data.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Design;

namespace Kinetra.Data;

/// <summary>What is stored, and how it maps to PostgreSQL.</summary>
public sealed class KinetraContext(DbContextOptions<KinetraContext> options) : DbContext(options)
{
    /// <summary>Shows.</summary>
    public DbSet<ShowRow> Shows => Set<ShowRow>();

    /// <summary>The shows' logs.</summary>
    public DbSet<CommandRow> Commands => Set<CommandRow>();

    /// <summary>Sound files.</summary>
    public DbSet<SoundRow> Sounds => Set<SoundRow>();

    /// <summary>Takes.</summary>
    public DbSet<TakeRow> Takes => Set<TakeRow>();

    /// <summary>The takes' tracks.</summary>
    public DbSet<TrackRow> Tracks => Set<TrackRow>();

    /// <summary>When promises were broken.</summary>
    public DbSet<PromiseBreakRow> PromiseBreaks => Set<PromiseBreakRow>();

    /// <summary>Loops on the bench.</summary>
    public DbSet<LoopRow> Loops => Set<LoopRow>();

    /// <summary>Chains that people have kept.</summary>
    public DbSet<PresetRow> Presets => Set<PresetRow>();

    /// <summary>Settings.</summary>
    public DbSet<SettingRow> Settings => Set<SettingRow>();

    /// <summary>The kind of a stored step that is none that this program knows.</summary>
    internal const StepKind Unreadable = (StepKind)(-1);

    /// <summary>Options for a database, the same for the server, the migrations and the tests.</summary>
    public static DbContextOptionsBuilder Configure(DbContextOptionsBuilder builder, string connection)
    {
        ArgumentNullException.ThrowIfNull(builder);
        return builder.UseNpgsql(connection).UseSnakeCaseNamingConvention();
    }

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        ArgumentNullException.ThrowIfNull(modelBuilder);
        modelBuilder.Entity<ShowRow>(show =>
        {
            show.ToTable("shows");
            show.Property(s => s.Name).HasMaxLength(60);
            show.Property(s => s.Rig).HasColumnType("jsonb");
        });
        modelBuilder.Entity<CommandRow>(command =>
        {
            command.ToTable("commands");
            command.HasKey(c => new { c.ShowId, c.Revision });
            command.Property(c => c.Body).HasColumnType("jsonb");
            command.Property(c => c.Inverse).HasColumnType("jsonb");
            command.Property(c => c.Kind).HasConversion(k => k.ToString(), text => Known(text, Unreadable)).HasMaxLength(10).HasDefaultValue(StepKind.Do).HasSentinel(StepKind.Do);
            command.Property(c => c.Window).HasMaxLength(64);
            command.Property(c => c.WindowName).HasMaxLength(60);
            command.HasOne<ShowRow>().WithMany().HasForeignKey(c => c.ShowId).OnDelete(DeleteBehavior.Cascade);
        });
        modelBuilder.Entity<SoundRow>(sound =>
        {
            sound.ToTable("sounds");
            sound.HasKey(s => s.Address);
            sound.Property(s => s.Address).HasMaxLength(64);
        });
        modelBuilder.Entity<TakeRow>(take =>
        {
            take.ToTable("takes");
            take.Property(t => t.Name).HasMaxLength(60);
            take.Property(t => t.Notes).HasMaxLength(4_000).HasDefaultValue("");
            take.Property(t => t.State).HasConversion(s => s.ToString(), text => Known(text, TakeState.Interrupted)).HasMaxLength(20);
            take.Property(t => t.Marks).HasColumnType("jsonb").HasDefaultValueSql("'[]'").HasConversion(
                marks => JsonSerializer.Serialize(marks, RigJson.Options),
                text => ListOf<TakeMark>(text),
                new ValueComparer<List<TakeMark>>((one, other) => one!.SequenceEqual(other!), marks => marks.Count, marks => marks.ToList()));
            take.Property(t => t.Verdict).HasColumnType("jsonb").HasConversion(
                verdict => JsonSerializer.Serialize(verdict, RigJson.Options),
                text => VerdictOf(text),
                new ValueComparer<TakeVerdict?>((one, other) => ReferenceEquals(one, other), verdict => 0, verdict => verdict));
            take.Property(t => t.Copy).HasColumnType("jsonb").HasConversion(copy => JsonSerializer.Serialize(copy, RigJson.Options), text => CopyOf(text));
            take.HasIndex(t => t.StartedAt);
            take.HasOne<ShowRow>().WithMany().HasForeignKey(t => t.ShowId).OnDelete(DeleteBehavior.Cascade);
            take.HasMany(t => t.Tracks).WithOne().HasForeignKey(t => t.TakeId).OnDelete(DeleteBehavior.Cascade);
        });
        modelBuilder.Entity<TrackRow>(track =>
        {
            track.ToTable("tracks");
            track.Property(t => t.Form).HasMaxLength(20).HasDefaultValue(nameof(TakeForm.Wav24));
            track.Property(t => t.Gaps).HasColumnType("jsonb").HasDefaultValueSql("'[]'").HasConversion(
                gaps => JsonSerializer.Serialize(gaps, RigJson.Options),
                text => ListOf<TrackGap>(text),
                new ValueComparer<List<TrackGap>>((one, other) => one!.SequenceEqual(other!), gaps => gaps.Count, gaps => gaps.ToList()));
        });
        modelBuilder.Entity<PromiseBreakRow>(broken =>
        {
            broken.ToTable("promise_breaks");
            broken.Property(b => b.Promise).HasMaxLength(40);
            broken.HasIndex(b => new { b.ShowId, b.Began });
            broken.HasOne<ShowRow>().WithMany().HasForeignKey(b => b.ShowId).OnDelete(DeleteBehavior.Cascade);
        });
        modelBuilder.Entity<LoopRow>(loop =>
        {
            loop.ToTable("loops");
            loop.Property(l => l.Source).HasMaxLength(40);
            loop.Property(l => l.Name).HasMaxLength(60);
            loop.Property(l => l.Variants).HasColumnType("jsonb");
            loop.HasIndex(l => new { l.ShowId, l.TakenAt });
            loop.HasOne<ShowRow>().WithMany().HasForeignKey(l => l.ShowId).OnDelete(DeleteBehavior.Cascade);
        });
        modelBuilder.Entity<PresetRow>(preset =>
        {
            preset.ToTable("presets");
            preset.Property(p => p.Name).HasMaxLength(60);
            preset.Property(p => p.Says).HasMaxLength(300);
            preset.Property(p => p.Chain).HasColumnType("jsonb");
        });
        modelBuilder.Entity<SettingRow>(setting =>
        {
            setting.ToTable("settings");
            setting.HasKey(s => s.Key);
        });
    }

    // What cannot be understood is left out: the take is there all the same.
    // A verdict of another version is none: the take can be read again.
    private static TakeVerdict? VerdictOf(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<TakeVerdict>(text, RigJson.Options) is { Tracks.IsDefault: false } verdict ? verdict : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static TakeCopy? CopyOf(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<TakeCopy>(text, RigJson.Options) is { Folder.Length: > 0 } copy ? copy : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static List<T> ListOf<T>(string text)
        where T : class
    {
        try
        {
            return [.. (JsonSerializer.Deserialize<List<T?>>(text, RigJson.Options) ?? []).OfType<T>()];
        }
        catch (JsonException)
        {
            return [];
        }
    }

    // One row that says something unknown must not keep the others from being read.
    private static T Known<T>(string text, T otherwise)
        where T : struct, Enum => Enum.TryParse(text, out T known) && Enum.IsDefined(known) ? known : otherwise;
}

/// <summary>Lets the migration tool make a context; it never connects.</summary>
public sealed class DesignTimeContext : IDesignTimeDbContextFactory<KinetraContext>
{
    /// <inheritdoc/>
    public KinetraContext CreateDbContext(string[] args)
    {
        var builder = new DbContextOptionsBuilder<KinetraContext>();
        KinetraContext.Configure(builder, "Host=127.0.0.1;Database=none");
        return new KinetraContext(builder.Options);
    }
}
