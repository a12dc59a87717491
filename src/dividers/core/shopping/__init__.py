"""What a whole job takes: needs with their derivation, what to buy in which sizes, what is left over, what runs out."""
