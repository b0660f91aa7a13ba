// Stands in for the fetchers of the bibliography parsers: reading a file never reaches the network.
module.exports = () => {
  throw new Error('a parser tried to reach the network')
}
