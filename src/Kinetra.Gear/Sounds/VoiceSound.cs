using Kinetra.Core.Engine;
using Kinetra.Media;
using static Kinetra.Core.Dsp.BiquadCoefficients;

namespace Kinetra.Gear.Sounds;

/// <summary>How a synthesised voice becomes somebody at a microphone or on a line.</summary>
/// <param name="File">Name of the script's recording.</param>
/// <param name="Rms">Level of the whole, dB.</param>
/// <param name="Room">Level of the room's noise against the voice, dB.</param>
/// <param name="Low">Lowest frequency that the line passes, Hz.</param>
/// <param name="High">Highest frequency that the line passes, Hz.</param>
/// <param name="Clicks">Key clicks a minute.</param>
/// <param name="Breath">Level of the breaths before phrases against the voice, dB.</param>
/// <param name="Seed">Of all that is random in it.</param>
sealed record VoiceCharacter(string File, double Rms, double Room, double Low, double High, double Clicks, double Breath, ulong Seed);

/// <summary>Speech from the shipped scripts, with room noise, breath, plosive thumps and key clicks.</summary>
static class VoiceSound
{
    // Quieter than this for longer than this is a pause between phrases.
    private const float PauseLevel = 0.01f;
    private const double PauseSeconds = 0.45;

    public static SoundBuffer Make(VoiceCharacter character)
    {
        var voice = Speech(character.File);
        var random = new Seeded(character.Seed);
        Synth.Level(-20, voice);
        var phrases = PhraseStarts(voice);
        Synth.Filter(voice, HighPass(character.Low, 0.7, Synth.Rate), LowPass(character.High, 0.7, Synth.Rate));
        AddBreaths(voice, phrases, random, character.Breath - 20);
        AddClicks(voice, random, character.Clicks);
        AddRoom(voice, random, character.Room - 20);
        Synth.Level(character.Rms, voice);
        return new SoundBuffer(voice, null);
    }

    /// <summary>A shipped recording at the engine's rate.</summary>
    public static float[] Speech(string file) =>
        SoundFileReader.Read(Path.Combine(AppContext.BaseDirectory, "Voices", file + ".flac")).Sound.Left;

    private static List<int> PhraseStarts(float[] voice)
    {
        var starts = new List<int>();
        var quiet = Synth.Frames(PauseSeconds);
        for (var n = 0; n < voice.Length; n++)
        {
            if (Math.Abs(voice[n]) < PauseLevel)
            {
                quiet++;
                continue;
            }

            if (quiet >= Synth.Frames(PauseSeconds))
            {
                starts.Add(n);
            }

            quiet = 0;
        }

        return starts;
    }

    private static void AddBreaths(float[] voice, List<int> phrases, Seeded random, double level)
    {
        foreach (var phrase in phrases)
        {
            var seconds = random.Between(0.22, 0.38);
            var breath = Synth.Burst(random, seconds, seconds * 0.7, BandPass(1900, 0.6, Synth.Rate), HighPass(500, 0.7, Synth.Rate));
            Synth.AddWrapped(voice, (phrase - breath.Length - Synth.Frames(0.05) + voice.Length) % voice.Length, breath, Math.Pow(10, level / 20));

            // A voice that close to a microphone now and then pops on its first consonant.
            if (random.Next() < 0.3)
            {
                var thump = Synth.Burst(random, 0.09, 0.012, LowPass(90, 0.8, Synth.Rate));
                Synth.AddWrapped(voice, phrase, thump, random.Between(2, 5) * Math.Pow(10, level / 20));
            }
        }
    }

    private static void AddClicks(float[] voice, Seeded random, double perMinute)
    {
        var bursts = (int)(perMinute * voice.Length / Synth.Rate / 60 / 4);
        for (var b = 0; b < bursts; b++)
        {
            var at = (int)random.Between(0, voice.Length);
            for (var key = 0; key < 4; key++)
            {
                var click = Synth.Burst(random, 0.025, 0.001, BandPass(random.Between(2500, 4200), 1.2, Synth.Rate));
                Synth.AddWrapped(voice, at % voice.Length, click, random.Between(0.02, 0.06));
                at += Synth.Frames(random.Between(0.09, 0.22));
            }
        }
    }

    private static void AddRoom(float[] voice, Seeded random, double level)
    {
        var overlap = Synth.Frames(0.5);
        var room = Synth.Seamless(
            Synth.Noise(random, voice.Length + overlap, LowPass(500, 0.5, Synth.Rate), HighPass(45, 0.7, Synth.Rate)), voice.Length);
        Synth.Level(level, room);

        // 50 Hz and its third harmonic: there is always some mains. Whole cycles, so that the loop closes.
        var cycles = Math.Round(50.0 * voice.Length / Synth.Rate);
        var first = new Phasor(cycles / voice.Length);
        var third = new Phasor(3 * cycles / voice.Length);
        var hum = Math.Pow(10, (level - 14) / 20);
        for (var n = 0; n < voice.Length; n++)
        {
            voice[n] += room[n] + (float)(hum * (first.Next() + (0.4 * third.Next())));
        }
    }
}
