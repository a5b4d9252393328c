using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class Workshop : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "loops",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    show_id = table.Column<Guid>(type: "uuid", nullable: false),
                    source = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    channels = table.Column<int>(type: "integer", nullable: false),
                    frames = table.Column<int>(type: "integer", nullable: false),
                    taken_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    variants = table.Column<string>(type: "jsonb", nullable: false),
                    form = table.Column<int>(type: "integer", nullable: false),
                    revision = table.Column<long>(type: "bigint", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_loops", x => x.id);
                    table.ForeignKey(
                        name: "fk_loops_shows_show_id",
                        column: x => x.show_id,
                        principalTable: "shows",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "presets",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    says = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false),
                    chain = table.Column<string>(type: "jsonb", nullable: false),
                    form = table.Column<int>(type: "integer", nullable: false),
                    made_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_presets", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_loops_show_id_taken_at",
                table: "loops",
                columns: new[] { "show_id", "taken_at" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "loops");

            migrationBuilder.DropTable(
                name: "presets");
        }
    }
}
