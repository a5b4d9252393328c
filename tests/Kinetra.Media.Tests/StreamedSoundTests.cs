using Kinetra.Core.Engine;

namespace Kinetra.Media.Tests;

public sealed class StreamedSoundTests : IDisposable
{
    private const int Chunk = StreamedSound.ChunkFrames;
    private const int Block = 256;
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("kinetra-streamed-");

    public void Dispose() => _folder.Delete(recursive: true);

    private (SoundBuffer Whole, string Path) Make(int frames, int channels)
    {
        // Each frame tells its own place, and the right channel that it is the right one.
        var whole = new SoundBuffer(
            [.. Enumerable.Range(1, frames).Select(n => (float)n)], channels == 2 ? [.. Enumerable.Range(1, frames).Select(n => -(float)n)] : null);
        var path = Path.Combine(_folder.FullName, $"{frames}-{channels}.f32");
        PlanarFile.Write(path, whole);
        return (whole, path);
    }

    [Theory]
    [InlineData(1, 1, true)]
    [InlineData(Chunk - 1, 2, true)]
    [InlineData(Chunk, 1, false)]
    [InlineData(Chunk, 2, true)]
    [InlineData(Chunk + 1, 1, true)]
    [InlineData((7 * Chunk) / 2, 2, true)]
    [InlineData(5 * Chunk, 2, false)]
    public void What_is_played_is_what_it_would_be_from_memory_however_it_is_started_anew(int frames, int channels, bool loop)
    {
        var (whole, path) = Make(frames, channels);
        using var sound = StreamedSound.Open(path, channels);
        (sound.Frames, sound.Channels).ShouldBe((frames, channels));
        var streamed = new SoundInlet(sound.Read(0, mayWait: true), loop, beginsWithSource: true);
        var memory = new SoundInlet(whole, loop, beginsWithSource: true);
        var (left, right, left2, right2) = (new float[Block], new float[Block], new float[Block], new float[Block]);
        for (var block = 0; block < (6 * Chunk) / Block; block++)
        {
            if (block % 611 == 610)
            {
                streamed.Restart();
                memory.Restart();
            }

            streamed.Read(block * Block, left, right);
            memory.Read(block * Block, left2, right2);
            left.ShouldBe(left2);
            if (channels == 2)
            {
                right.ShouldBe(right2);
            }
        }

        sound.Missed.ShouldBe(0);
    }

    [Fact]
    public void At_its_pace_two_readers_miss_nothing_and_hardly_any_of_the_sound_is_in_memory()
    {
        var (whole, path) = Make(100 * Chunk, 1);
        using var sound = StreamedSound.Open(path, 1);
        ISoundReader[] readers = [sound.Read(0, mayWait: false), sound.Read(50 * Chunk, mayWait: false)];
        var left = new float[Block];
        for (var frame = 0; frame < 100 * Chunk; frame += Block)
        {
            // A quarter of a second apart.
            if (frame % (48 * Block) == 0)
            {
                sound.ReadAhead();
            }

            foreach (var (reader, begun) in readers.Zip([0, 50 * Chunk]))
            {
                var at = (begun + frame) % whole.Frames;
                reader.Copy(at, left, default);
                left[0].ShouldBe(at + 1);
                left[^1].ShouldBe(at + Block);
            }
        }

        sound.Missed.ShouldBe(0);
        sound.BytesHeld.ShouldBeLessThanOrEqualTo((2 + 3 + 3 + 4) * Chunk * sizeof(float));
    }

    [Fact]
    public void What_is_not_at_hand_is_silence_that_is_counted_and_the_engine_does_not_wait_for_it()
    {
        var (_, path) = Make(20 * Chunk, 2);
        using var sound = StreamedSound.Open(path, 2);
        var reader = sound.Read(0, mayWait: false);
        var (left, right) = (Ones(), Ones());
        reader.Copy((10 * Chunk) - 100, left, right);
        left.ShouldAllBe(x => x == 0);
        right.ShouldAllBe(x => x == 0);
        sound.Missed.ShouldBe(Block);
        sound.ReadAhead();
        reader.Copy((10 * Chunk) - 100, left, right);
        (left[0], right[^1]).ShouldBe(((10 * Chunk) - 99, -((10 * Chunk) - 100f + Block)));
        sound.Missed.ShouldBe(Block);
    }

    [Fact]
    public void Reading_allocates_nothing()
    {
        var (_, path) = Make(3 * Chunk, 2);
        using var sound = StreamedSound.Open(path, 2);
        var reader = sound.Read(0, mayWait: false);
        var (left, right) = (Ones(), Ones());
        reader.Copy(0, left, right);
        Allocations.Of(2 * Chunk / Block, n => reader.Copy(n * Block, left, right)).ShouldBe(0);
    }

    [Fact]
    public void A_file_that_is_removed_plays_on_and_one_that_is_cut_off_is_silent_from_there_and_says_so()
    {
        var (_, path) = Make(10 * Chunk, 1);
        using var sound = StreamedSound.Open(path, 1);
        var reader = sound.Read(0, mayWait: false);
        using (var file = new FileStream(path, FileMode.Open, FileAccess.Write, FileShare.ReadWrite | FileShare.Delete))
        {
            file.SetLength(5L * Chunk * sizeof(float));
        }

        File.Delete(path);
        var left = Ones();
        foreach (var (at, isThere) in new[] { (4 * Chunk, true), (7 * Chunk, false), (0, true) })
        {
            reader.Copy(at, left, default);
            if (at == 0)
            {
                sound.ReadAhead();
            }
            else
            {
                // What is wanted first is read first, and what follows is gone.
                Should.Throw<IOException>(sound.ReadAhead);
            }

            reader.Copy(at, left, default);
            left[0].ShouldBe(isThere ? at + 1 : 0);
        }
    }

    [Fact]
    public void A_place_that_cannot_be_read_takes_nothing_from_who_plays_elsewhere()
    {
        // Of the two channels one after the other, the right one is cut off in its middle.
        var (_, path) = Make(10 * Chunk, 2);
        using var sound = StreamedSound.Open(path, 2);
        var (late, early) = (sound.Read(0, mayWait: false), sound.Read(0, mayWait: false));
        using (var file = new FileStream(path, FileMode.Open, FileAccess.Write, FileShare.ReadWrite | FileShare.Delete))
        {
            file.SetLength((10L + 7) * Chunk * sizeof(float));
        }

        var (left, right) = (Ones(), Ones());
        late.Copy(8 * Chunk, left, right);
        early.Copy(4 * Chunk, left, right);
        Should.Throw<IOException>(sound.ReadAhead);
        early.Copy(4 * Chunk, left, right);
        left[0].ShouldBe((4 * Chunk) + 1);
        late.Copy(8 * Chunk, left, right);
        left.ShouldAllBe(x => x == 0);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(6)]
    public void A_file_that_does_not_fit_is_refused(int bytes)
    {
        var path = Path.Combine(_folder.FullName, "odd.f32");
        File.WriteAllBytes(path, new byte[bytes]);
        Should.Throw<SoundFileException>(() => StreamedSound.Open(path, 1)).What.ShouldContain("damaged");
        Should.Throw<IOException>(() => StreamedSound.Open(path + "x", 1));
    }

    private static float[] Ones() => [.. Enumerable.Repeat(1f, Block)];
}
