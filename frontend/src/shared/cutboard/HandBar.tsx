import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import type { FilmPlan } from "../../api/client";
import { showLength } from "../logic/format";
import { useSettings } from "../settings";
import { nextTurn, placeOf, type Hand, type Moving, type Piece } from "./hand";

interface Props {
  plan: FilmPlan;
  hand: Hand;
  moving: Moving;
  picked: Piece | null;
}

/** What can be done by hand with the piece that is picked, and what is said of the place it is held over. */
export function HandBar({ plan, hand, moving, picked }: Props) {
  const { unit } = useSettings();
  const placed = plan.pieces.filter((piece) => piece.by_hand);
  const { held } = moving;
  const others = picked ? plan.stocks.filter((stock) => stock.id !== picked.stock_id) : [];
  const refused = held?.answer?.refused;
  return (
    <Box
      role="group"
      aria-label="By hand"
      sx={{ border: 2, borderColor: "secondary.main", bgcolor: "background.paper", p: 1, my: 1 }}
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", minHeight: 44 }}>
        <Typography sx={{ fontWeight: 700, flexGrow: 1 }} role="status" data-hand-says>
          {held
            ? refused
              ? `${held.piece.mark} ${held.piece.label}: ${refused}`
              : `${held.piece.mark} ${held.piece.label}: can be cut here.${held.dragged ? " Let go to put it down." : " Enter puts it down."}`
            : picked
              ? `${picked.mark} ${picked.label}${picked.by_hand ? ", placed by hand" : ""}`
              : "Drag a piece to where it shall lie, or pick one."}
        </Typography>
        {picked && !held?.dragged && (
          <>
            {picked.by_hand ? (
              <Button onClick={() => hand.letGo([picked])}>Let it go</Button>
            ) : (
              <Button onClick={() => void moving.put(picked, placeOf(picked))}>Keep it here</Button>
            )}
            <Button
              disabled={picked.turns.length < 2}
              onClick={() =>
                void moving.put(picked, {
                  ...placeOf(picked),
                  turn: nextTurn(picked, placeOf(picked).turn),
                })
              }
            >
              Turn it
            </Button>
            {others.length > 0 && (
              <TextField
                select
                label="Put it on"
                value=""
                sx={{ minWidth: 190 }}
                onChange={(event) =>
                  void moving.put(picked, {
                    stock_id: event.target.value,
                    x_mm: 0,
                    y_mm: 0,
                    turn: placeOf(picked).turn,
                  })
                }
              >
                {others.map((stock) => (
                  <MenuItem key={stock.id} value={stock.id}>
                    {stock.label}, {showLength(stock.width_mm, unit)}
                  </MenuItem>
                ))}
              </TextField>
            )}
          </>
        )}
        {placed.length > 1 && <Button onClick={() => hand.letGo(placed)}>Let all go</Button>}
      </Box>
      <Typography variant="body2" color="text.secondary">
        Keys on a piece: arrows move it 1 in, with Shift 1/16 in; T turns it, Enter puts it down, Escape takes
        it back; L keeps it where it lies, U lets it go. All others are laid anew around what stands.
      </Typography>
    </Box>
  );
}
